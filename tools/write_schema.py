"""Write docs/haze-file.schema.json: the form of `haze.json` in a Haze file.

With `--check` nothing is written; a stale file ends the run with status 1.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from haze.service.files.documents import VERSION, HazeFile

TARGET = Path(__file__).parent.parent / "docs" / "haze-file.schema.json"


def document() -> str:
    """The schema as text, stable from run to run."""
    schema = HazeFile.model_json_schema(mode="serialization")
    about = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Haze file, form {VERSION}",
    }
    return json.dumps(schema | about, indent=1, sort_keys=True, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    if "--check" not in sys.argv[1:]:
        TARGET.write_text(document(), "utf-8")
    elif TARGET.read_text("utf-8") != document():
        sys.exit("docs/haze-file.schema.json is stale; run `make openapi`")
