// Written by tools/write_craft.py from the core; `make openapi` writes it anew.
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

export const SPRAYED: SprayedTask[] = [
  {"id": "seal", "word": "seal", "label": "Seal: soft groundwork, before anything else", "recipe": "varnish", "kinds": ["varnish", "primer"], "finishes": [], "all_round": true},
  {"id": "prime", "word": "ground", "label": "Ground: cover all round and below", "recipe": "prime", "kinds": [], "finishes": [], "all_round": true},
  {"id": "cover", "word": "base", "label": "Base: the colour that covers", "recipe": "cover", "kinds": [], "finishes": [], "all_round": false},
  {"id": "light", "word": "light", "label": "Light: a lighter coat from the light", "recipe": "light", "kinds": [], "finishes": [], "all_round": false},
  {"id": "rung", "word": "rung", "label": "Rung: one step of a colour", "recipe": "rung", "kinds": [], "finishes": [], "all_round": false},
  {"id": "metal", "word": "metal", "label": "Metal", "recipe": "metal", "kinds": ["metallic"], "finishes": [], "all_round": false},
  {"id": "tint", "word": "tint", "label": "Tint: transparent colour on one side", "recipe": "veil", "kinds": [], "finishes": [], "all_round": false},
  {"id": "veil", "word": "veil", "label": "Veil: transparent colour over all", "recipe": "veil", "kinds": [], "finishes": [], "all_round": false},
  {"id": "glow", "word": "glow", "label": "Glow round a lamp, a fire, a pool", "recipe": "light", "kinds": [], "finishes": [], "all_round": false},
  {"id": "wash", "word": "wash", "label": "Wash, sprayed", "recipe": "veil", "kinds": [], "finishes": [], "all_round": false},
  {"id": "gloss", "word": "gloss", "label": "Gloss varnish", "recipe": "varnish", "kinds": ["varnish"], "finishes": ["gloss"], "all_round": true},
  {"id": "satin", "word": "satin", "label": "Satin varnish", "recipe": "varnish", "kinds": ["varnish"], "finishes": ["satin"], "all_round": true},
  {"id": "matt", "word": "matt", "label": "Matt varnish", "recipe": "varnish", "kinds": ["varnish"], "finishes": ["matt", "ultra_matt"], "all_round": true}
];

export const BY_HAND: { id: Role; word: string; label: string; paint: boolean }[] = [
  {"id": "dry_brush", "word": "dry brush", "label": "Dry brush", "paint": true},
  {"id": "edge_lines", "word": "edge lines", "label": "Edge lines", "paint": true},
  {"id": "wash", "word": "wash", "label": "Wash by brush", "paint": true},
  {"id": "chips", "word": "chips", "label": "Chips", "paint": true},
  {"id": "streaks", "word": "streaks", "label": "Streaks pulled with spirit", "paint": true},
  {"id": "rim", "word": "base rim", "label": "Base rim", "paint": true},
  {"id": "mask_on", "word": "mask on", "label": "Mask on", "paint": false},
  {"id": "mask_off", "word": "mask off", "label": "Mask off", "paint": false},
  {"id": "rest", "word": "rest", "label": "Rest", "paint": false}
];

export const MASKS: { id: Mask; label: string; edge: string }[] = [
  {"id": "tape", "label": "hard tape", "edge": "a hard edge"},
  {"id": "putty", "label": "soft putty", "edge": "an edge that fades over 1 mm"},
  {"id": "foam", "label": "torn foam", "edge": "an edge that fades over 3 mm"},
  {"id": "liquid", "label": "liquid mask", "edge": "a hard edge"},
  {"id": "card", "label": "card held off", "edge": "an edge that fades over 5 mm"}
];

export const AIMS: Record<AimField, string> = {
  "recesses": "into the recesses only",
  "panels": "into the middle of each panel, borders left alone",
  "edges": "along the edges that face up",
  "ramp": "from one end, lifting off toward the other",
  "glow": "round the glow, nearest parts most",
  "part": "over this part only"
};

export const ZONES: Record<AimField, string> = {
  "recesses": "the recesses",
  "panels": "the middle of each panel",
  "edges": "the edges that face up",
  "ramp": "the far half of the ramp",
  "glow": "what the glow lights",
  "part": "the part"
};

export const PAINT_KINDS: Record<PaintKind, string> = {
  "brush_acrylic": "brush acrylic",
  "airbrush_acrylic": "airbrush acrylic",
  "primer": "primer",
  "ink": "ink",
  "transparent": "transparent",
  "metallic": "metallic",
  "white": "white",
  "lacquer": "lacquer",
  "varnish": "varnish",
  "enamel_wash": "enamel wash"
};

export const THINNER_KINDS: Record<ThinnerKind, string> = {
  "water": "water",
  "acrylic_thinner": "acrylic thinner",
  "flow_aid": "flow aid",
  "alcohol": "alcohol",
  "lacquer_thinner": "lacquer thinner",
  "spirit": "spirit"
};

export const SUITS: Record<PaintKind, ThinnerKind[]> = {
  "brush_acrylic": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "airbrush_acrylic": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "primer": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "ink": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "transparent": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "metallic": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "white": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "lacquer": ["lacquer_thinner"],
  "varnish": ["acrylic_thinner", "water", "flow_aid", "alcohol"],
  "enamel_wash": ["spirit"]
};

export const OPACITIES: Record<Opacity, string> = {
  "opaque": "opaque",
  "semi_opaque": "semi-opaque",
  "semi_transparent": "semi-transparent",
  "transparent": "transparent"
};

export const FINISHES: Record<Finish, string> = {
  "ultra_matt": "ultra matt",
  "matt": "matt",
  "satin": "satin",
  "gloss": "gloss"
};

export const DIALS: Record<Knob | 'rest_s' | 'retarder_parts', Dial> = {
  "pressure_psi": {"label": "Pressure", "low": 1.0, "high": 60.0, "step": 0.5},
  "thinner_parts": {"label": "Thinner to paint", "low": 0.0, "high": 12.0, "step": 0.25},
  "trigger": {"label": "Trigger stop", "low": 0.01, "high": 1.0, "step": 0.01},
  "distance_mm": {"label": "Distance", "low": 3.0, "high": 400.0, "step": 5.0},
  "speed_mm_s": {"label": "Speed of the hand", "low": 5.0, "high": 1000.0, "step": 5.0},
  "retarder_parts": {"label": "Retarder to paint", "low": 0.0, "high": 0.5, "step": 0.02},
  "rest_s": {"label": "Rest between passes", "low": 0.0, "high": 36000.0, "step": 1.0}
};

export const TRADE_WORDS: Record<string, string> = {
  "spiders": "Paint so wet that the air drives it apart in legs.",
  "specks": "Drops large enough to be seen one by one.",
  "dust": "Drops that dried in the air and lie on the piece like sand.",
  "no flow": "So little comes, or it dries on the tip, that nothing lands.",
  "ground": "The first coats: they make paint hold, and set the dark or light below all else.",
  "light": "A coat swept from where the light comes, so that it lies where the light would.",
  "rung": "One step of a ladder of colours from dark to light.",
  "veil": "A thin coat one sees through: it colours what lies below, its light and dark stay.",
  "tint": "A coat one sees through, laid on a part of the piece to turn its colour.",
  "glow": "A coat aimed round a lamp on the piece, most of it nearest the lamp.",
  "wash": "Thin paint that runs into recesses and darkens them.",
  "dry brush": "A brush wiped nearly dry, stroked over what stands out.",
  "chips": "Small spots where paint looks worn to what lies below.",
  "streaks": "Thin runs down a side, as rain and rust leave them.",
  "spot": "How wide the spray is where it lands.",
  "lands on": "The share of the surface this coat gets to at all.",
  "covers": "The share where it hides what lies below.",
  "uncovered": "Surface no coat has reached so far.",
  "trigger stop": "How far the trigger can be drawn back: the screw behind the needle.",
  "until the tip dries": "How long one can spray before paint dries on the needle's tip.",
  "touch-dry with air": "When a finger leaves no mark, with air blown over it.",
  "cup changes": "How often the cup is emptied, rinsed and filled with something else.",
  "deep cleans": "The airbrush taken apart: after metal, varnish or solvent.",
  "idle": "Time the hands have nothing to do."
};

export const CLEAN_BELOW: number = 0.3;

export const RISKS: Record<string, string> = {
  "spiders": "it spiders or runs",
  "specks": "specks show",
  "dust": "it lands as dust",
  "no_flow": "it clogs or does not flow"
};

export const ON_CARD: Partial<Record<Symptom, Look>> = {
  "spiders": "spiders",
  "specks": "specks",
  "dust": "dust",
  "nothing": "nothing",
  "tip_dry": "tip_dry",
  "pooled": "pooled",
  "spitting": "nothing"
};

export const SCHOOLS: { [R in keyof Schools]-?: SchoolOption<R>[] } = {
  "pressure": [{"id": "whisper", "name": "Whisper", "words": "low pressure, near"}, {"id": "middle", "name": "Middle", "words": "neither low nor high"}, {"id": "brisk", "name": "Brisk", "words": "high pressure, from farther"}],
  "light": [{"id": "noon", "name": "Noon", "words": "straight from above"}, {"id": "shoulder", "name": "Shoulder", "words": "over one shoulder"}, {"id": "stage", "name": "Stage", "words": "what models the front most"}],
  "ground": [{"id": "two_tone", "name": "Two-tone", "words": "dark below, light above"}, {"id": "three_tone", "name": "Three-tone", "words": "dark, middle, light"}, {"id": "hue_ground", "name": "Hue ground", "words": "a ground of its own hue"}],
  "order": [{"id": "climb", "name": "Climb", "words": "dark to light, opaque"}, {"id": "descend", "name": "Descend", "words": "light to dark, transparent"}, {"id": "veil", "name": "Veil", "words": "greys under one colour"}, {"id": "span", "name": "Span", "words": "middle, up, then down"}],
  "cup": [{"id": "rinse", "name": "Rinse", "words": "rinse between rungs"}, {"id": "carry", "name": "Carry", "words": "carry the rest into the next rung"}],
  "thinner": [{"id": "own", "name": "Own", "words": "the thinner made for the paint"}, {"id": "water_flow_aid", "name": "Water", "words": "water with a little flow aid"}, {"id": "any_of_kind", "name": "Any", "words": "any thinner of its kind"}]
};

export const SCHOOLS_NAMED: (keyof Schools)[] = [
  "pressure",
  "light",
  "ground",
  "order"
];

export const FRESH: Fresh = {
  "key": {"kind": "key", "id": "key", "name": "Key", "azimuth_deg": 40.0, "elevation_deg": 45.0, "softness_deg": 15.0, "strength": 1.0, "colour": "#ffffff"},
  "sky": {"kind": "sky", "id": "sky", "name": "Sky", "strength": 0.4, "colour": "#ffffff"},
  "glow": {"kind": "glow", "id": "glow", "name": "Glow", "shape": "sphere", "at": [0.0, 0.0, 0.0], "to": null, "radius_mm": 2.0, "reach_mm": 8.0, "clear_mm": 0.0, "strength": 1.0, "colour": "#8fe8dc"},
  "schools": {"pressure": "middle", "light": "shoulder", "ground": "three_tone", "order": "climb", "cup": "rinse", "thinner": "own"}
};

export const BARE: string = "#8d8e8c";

export const MOST: Record<Counted, number> = {
  "lights": 12,
  "stations": 12,
  "paints": 4,
  "drops": 20,
  "copies": 500,
  "sectors": 8,
  "steps": 60
};

export const PATTERNS: readonly Pattern[] = [
  "flakes",
  "runs",
  "skips",
  "line",
  "pool",
  "dots"
];

export const MOST_TEXTURES: number = 3;

export const PASS_UM: { value: number; low: number; high: number } = {
  "value": 1.6,
  "low": 1.0,
  "high": 2.6
};

export const LOOKS_APART: Look[] = [
  "clean",
  "spiders",
  "specks",
  "dust",
  "nothing"
];

export const PAPER_LIGHTNESS: number = 94.8;

export const POINTS: { least: number; checked: number; most: number } = {
  "least": 4,
  "checked": 6,
  "most": 12
};

export const RING: { least: number; most: number } = {
  "least": 5,
  "most": 40
};

export const SHELF_LACKS: string = "The shelf has no";

export const RUNGS: [number, number] = [
  2,
  12
];
