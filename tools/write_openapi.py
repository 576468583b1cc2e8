"""Write ui/openapi.json, from which the browser's types are generated.

With `--check` nothing is written; a stale file ends the run with status 1.
"""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from haze.service.bench import Bench
from haze.web.app import create_app

TARGET = Path(__file__).parent.parent / "ui" / "openapi.json"


def document() -> str:
    """The OpenAPI document as text, stable from run to run."""
    with tempfile.TemporaryDirectory() as folder:
        bench = Bench(Path(folder))
        try:
            described = create_app(bench, documented=True).api_doc
            return json.dumps(described, indent=1, sort_keys=True) + "\n"
        finally:
            bench.close()


if __name__ == "__main__":
    if "--check" not in sys.argv[1:]:
        TARGET.write_text(document(), "utf-8")
    elif TARGET.read_text("utf-8") != document():
        sys.exit("ui/openapi.json is stale; run `make openapi`")
