"""Write ui/src/craft.generated.ts: what the browser knows of the craft, from the core.

With `--check` nothing is written; a stale file ends the run with status 1.
"""

from __future__ import annotations

import json
import sys
from dataclasses import asdict
from pathlib import Path

from haze.core.film.ladder_ends import LEAST_RUNGS, MOST_RUNGS
from haze.core.inspect.card_colours import PAPER_LIGHTNESS
from haze.core.inspect.piece.outline import LEAST_RING, MOST_RING
from haze.core.inspect.piece.pose import CHECKED_FROM, LEAST_POINTS, MOST_POINTS
from haze.core.plan import words
from haze.core.plan.coat import MOST_PAINTS, MOST_STATIONS
from haze.core.plan.document import MOST_COATS
from haze.core.plan.knobs import DIALS
from haze.core.plan.lights import MOST_LIGHTS, GlowLight, KeyLight, SkyLight
from haze.core.plan.masks import MASKS
from haze.core.plan.mix import MOST_DROPS
from haze.core.plan.piece import BARE_HEX, MOST_COPIES, MOST_SECTORS
from haze.core.plan.roles import HANDS, SPRAYED
from haze.core.plan.schools import NAMED, SCHOOLS, Schools
from haze.core.plan.texture import MOST_TEXTURES, PATTERNS
from haze.core.spray.advice import CLEAN_BELOW, RISK_WORDS
from haze.core.spray.calibrate import CLASSES
from haze.core.spray.constants import OWN_THINNER, PAINTS, THINNERS, suits
from haze.core.spray.trouble import ON_CARD
from haze.core.spray.unsure import USUAL_PASS_UM

TARGET = Path(__file__).parent.parent / "ui" / "src" / "craft.generated.ts"
HEAD = """// Written by tools/write_craft.py from the core; `make openapi` writes it anew.
import type { components } from '@/api/schema';

type Schemas = components['schemas'];
type Task = Schemas['Coat']['task'];
type Mask = Schemas['HandStep']['mask'];
type Role = Schemas['HandStep']['role'];
type PaintKind = Schemas['PaintUsed']['kind'];
export type ThinnerKind = Schemas['ThinnerUsed']['kind'];
type Symptom = Schemas['SymptomOut']['id'];
type Look = Schemas['TrialBody']['look'];
type Opacity = Schemas['PaintUsed']['opacity'];
type Finish = NonNullable<Schemas['PaintUsed']['finish']>;
type AimField = Schemas['Aim']['field'];
type Schools = Schemas['Schools'];
type SchoolOption<R extends keyof Schools> = {
  id: NonNullable<Schools[R]>;
  name: string;
  words: string;
};
interface Dial {
  label: string;
  low: number;
  high: number;
  step: number;
}
export interface SprayedTask {
  id: Task;
  word: string;
  label: string;
  kinds: PaintKind[];
  finishes: Finish[];
  all_round: boolean;
  /** The task of the model whose recipes it takes. */
  recipe: NonNullable<Schemas['WindowOfBody']['task']>;
}
interface Fresh {
  key: Schemas['KeyLight'];
  sky: Schemas['SkyLight'];
  glow: Schemas['GlowLight'];
  schools: Schools;
}
type Counted = 'lights' | 'stations' | 'paints' | 'drops' | 'copies' | 'sectors' | 'steps';
export type Pattern = 'flakes' | 'runs' | 'skips' | 'line' | 'pool' | 'dots';
export type Knob = 'pressure_psi' | 'thinner_parts' | 'trigger' | 'distance_mm' | 'speed_mm_s';
"""


def _sprayed() -> list[dict[str, object]]:
    kept = ("word", "label", "kinds", "finishes", "all_round", "recipe")
    return [
        {"id": name} | {k: v for k, v in asdict(task).items() if k in kept}
        for name, task in SPRAYED.items()
    ]


def _by_hand() -> list[dict[str, object]]:
    return [
        {"id": name, "word": hand.word, "label": hand.label, "paint": hand.paint}
        for name, hand in HANDS.items()
    ]


def _schools() -> dict[str, list[dict[str, str]]]:
    return {
        row: [{"id": k, "name": name, "words": said} for k, (name, said) in options.items()]
        for row, options in SCHOOLS.items()
    }


def _suits() -> dict[str, list[str]]:
    """Thinners that suit each kind of paint, its own first."""
    return {
        paint.kind: sorted(
            (t.kind for t in THINNERS.values() if suits(paint, t)),
            key=lambda kind: kind != OWN_THINNER[paint.chemistry],
        )
        for paint in PAINTS.values()
    }


TABLES: dict[str, tuple[str, object]] = {
    "SPRAYED": (
        "SprayedTask[]",
        _sprayed(),
    ),
    "BY_HAND": ("{ id: Role; word: string; label: string; paint: boolean }[]", _by_hand()),
    "MASKS": (
        "{ id: Mask; label: string; edge: string }[]",
        [{"id": kind, "label": m.label, "edge": m.edge} for kind, m in MASKS.items()],
    ),
    "AIMS": ("Record<AimField, string>", words.AIM_WORDS),
    "ZONES": ("Record<AimField, string>", words.ZONE_WORDS),
    "PAINT_KINDS": ("Record<PaintKind, string>", words.PAINT_KINDS),
    "THINNER_KINDS": ("Record<ThinnerKind, string>", words.THINNER_KINDS),
    "SUITS": ("Record<PaintKind, ThinnerKind[]>", _suits()),
    "OPACITIES": ("Record<Opacity, string>", words.OPACITY_WORDS),
    "FINISHES": ("Record<Finish, string>", words.FINISH_WORDS),
    "DIALS": (
        "Record<Knob | 'rest_s' | 'retarder_parts', Dial>",
        {name: asdict(dial) for name, dial in DIALS.items()},
    ),
    "TRADE_WORDS": ("Record<string, string>", words.TRADE_WORDS),
    "CLEAN_BELOW": ("number", CLEAN_BELOW),
    "RISKS": ("Record<string, string>", RISK_WORDS),
    "ON_CARD": ("Partial<Record<Symptom, Look>>", ON_CARD),
    "SCHOOLS": (
        "{ [R in keyof Schools]-?: SchoolOption<R>[] }",
        _schools(),
    ),
    "SCHOOLS_NAMED": ("(keyof Schools)[]", NAMED),
    "FRESH": (
        "Fresh",
        {
            "key": KeyLight().model_dump(),
            "sky": SkyLight(id="sky").model_dump(),
            "glow": GlowLight(id="glow", at=(0, 0, 0)).model_dump(),
            "schools": Schools().model_dump(),
        },
    ),
    "BARE": ("string", BARE_HEX),
    "MOST": (
        "Record<Counted, number>",
        {
            "lights": MOST_LIGHTS,
            "stations": MOST_STATIONS,
            "paints": MOST_PAINTS,
            "drops": MOST_DROPS,
            "copies": MOST_COPIES,
            "sectors": MOST_SECTORS,
            "steps": MOST_COATS,
        },
    ),
    "PATTERNS": ("readonly Pattern[]", list(PATTERNS)),
    "MOST_TEXTURES": ("number", MOST_TEXTURES),
    "PASS_UM": ("{ value: number; low: number; high: number }", asdict(USUAL_PASS_UM)),
    "LOOKS_APART": ("Look[]", CLASSES),
    "PAPER_LIGHTNESS": ("number", PAPER_LIGHTNESS),
    "POINTS": (
        "{ least: number; checked: number; most: number }",
        {"least": LEAST_POINTS, "checked": CHECKED_FROM, "most": MOST_POINTS},
    ),
    "RING": ("{ least: number; most: number }", {"least": LEAST_RING, "most": MOST_RING}),
    "SHELF_LACKS": ("string", words.SHELF_LACKS),
    "RUNGS": ("[number, number]", [LEAST_RUNGS, MOST_RUNGS]),
}


def _written(value: object) -> str:
    """JSON with one entry a line."""
    if isinstance(value, dict):
        lines = [
            f"  {json.dumps(k)}: {json.dumps(v, ensure_ascii=False)}" for k, v in value.items()
        ]
        return "{\n" + ",\n".join(lines) + "\n}"
    if isinstance(value, list | tuple):
        lines = [f"  {json.dumps(v, ensure_ascii=False)}" for v in value]
        return "[\n" + ",\n".join(lines) + "\n]"
    return json.dumps(value, ensure_ascii=False)


def document() -> str:
    """The file as text, stable from run to run."""
    tables = [
        f"export const {name}: {kind} = {_written(value)};\n"
        for name, (kind, value) in TABLES.items()
    ]
    return "\n".join([HEAD, *tables])


if __name__ == "__main__":
    if "--check" not in sys.argv[1:]:
        TARGET.write_text(document(), "utf-8")
    elif TARGET.read_text("utf-8") != document():
        sys.exit("ui/src/craft.generated.ts is stale; run `make openapi`")
