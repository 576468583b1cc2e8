"""What the Saltgate club did in the last three months, for a demo that shows what all is for.

Made by tools/demo_history.py from the simulators; here its dates are moved to end yesterday.
"""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from importlib import resources
from typing import Any

from haze.formats.archive import Reader
from haze.service.files import taken
from haze.service.files.documents import ALLOWED, MANIFEST, MOST_MANIFEST, MOST_PHOTO, HazeFile
from haze.service.notebook.photos import sized
from haze.store.connection import Database

HISTORY = "history.haze"
ANCHOR = date(2026, 12, 1)  # its dates are those of a demo loaded on this day
# plans by name, and what they are called in the file
PLANS = {
    "Herald in practice light": "demo-herald",
    "Lamp stair at low tide": "demo-stair",
    "Marrow before the spring tide": "demo-marrow",
    "Wardens of the spring tide": "demo-wardens",
}
DAY = re.compile(r"^(\d{4}-\d{2}-\d{2})(?=T|$)")


def load(db: Database, plans: dict[str, str], *, today: date) -> None:
    """Put the history into a data folder that holds the demo's plans.

    Parameters
    ----------
    db : added to; what is there already is left alone
    plans : identity of each demo plan, by its name
    today : the day the history ends before
    """
    with (resources.files("haze.demo") / HISTORY).open("rb") as file:
        archive = Reader(file, ALLOWED)
        text = archive.read(MANIFEST, most=MOST_MANIFEST).decode()
        for name, called in PLANS.items():
            text = text.replace(called, plans[name])
        found = HazeFile.model_validate(moved(json.loads(text), today - ANCHOR))
        photos = {
            picture.entry: sized(
                lambda _: True, data=archive.read(picture.entry, most=MOST_PHOTO), as_is=True
            )
            for picture in found.pictures
        }
    taken.add(db, found, photos)


def moved(part: Any, by: timedelta) -> Any:
    """A part of a document with all its dates moved.

    Parameters
    ----------
    part : of JSON
    by : whole days
    """
    if isinstance(part, dict):
        return {key: moved(value, by) for key, value in part.items()}
    if isinstance(part, list):
        return [moved(value, by) for value in part]
    if isinstance(part, str) and (day := DAY.match(part)):
        return f"{date.fromisoformat(day[1]) + by}{part[len(day[1]) :]}"
    return part
