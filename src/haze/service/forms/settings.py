"""Settings with their defaults, choices and help, in one table."""

from __future__ import annotations

from typing import NamedTuple

from haze.core.errors import UnknownNameError
from haze.store import settings as stored
from haze.store.connection import Database


class SettingChoice(NamedTuple):
    """One setting: default, what is accepted, and what it does."""

    default: str
    accepted: tuple[str, ...]
    help: str


SETTINGS: dict[str, SettingChoice] = {
    "pressure_unit": SettingChoice("psi", ("psi", "bar"), "Which unit of pressure comes first."),
    "length_unit": SettingChoice(
        "mm", ("mm", "inch"), "In which unit lengths are shown and typed."
    ),
    "temperature_unit": SettingChoice("c", ("c", "f"), "Degrees Celsius or Fahrenheit."),
    "volume_unit": SettingChoice("drops", ("drops", "ml"), "Whether a cup is counted or measured."),
    "decimal_sign": SettingChoice(
        "auto", ("auto", "point", "comma"), "Decimal sign: the browser's, a point, a comma."
    ),
    "theme": SettingChoice("daylight", ("daylight", "lamp_off"), "Light or dark surroundings."),
    "tour": SettingChoice(
        "to_show", ("to_show", "seen"), "Whether the first walk round was shown."
    ),
    "trade_words": SettingChoice(
        "short", ("short", "explained"), "Whether words of the trade are explained."
    ),
    "devices": SettingChoice("off", ("off", "simulated"), "Compressor, room sensor, pedal."),
    "single_keys": SettingChoice("on", ("on", "off"), "Single-key shortcuts such as V and [ ]."),
}


def read(db: Database) -> dict[str, str]:
    """Every setting; a stored value that is no longer accepted falls back to its default."""
    held = stored.every(db.connection())
    return {
        name: held[name] if held.get(name) in choice.accepted else choice.default
        for name, choice in SETTINGS.items()
    }


def write(db: Database, name: str, value: str) -> dict[str, str]:
    """Set one setting, checked."""
    if name not in SETTINGS:
        raise UnknownNameError(
            f"There is no setting {name!r}; accepted are {', '.join(SETTINGS)}.", field="name"
        )
    accepted = SETTINGS[name].accepted
    if value not in accepted:
        raise UnknownNameError(
            f"{name} is {value!r}; accepted are {', '.join(accepted)}.", field=name
        )
    with db.atomic() as tx:
        stored.put(tx, name, value)
    return read(db)
