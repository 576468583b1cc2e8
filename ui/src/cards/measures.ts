import type { CardRead, MeasureOut, PracticeChange, TrialLook } from '@/api/client';

/** What each measure is called, in the order they stand. */
const NAMES: [name: string, label: string][] = [
  ['specks_per_cm2', 'Specks'],
  ['finger_mm', 'Spiders'],
  ['line_15_mm', 'Line at 15 mm'],
  ['line_25_mm', 'Line at 25 mm'],
  ['line_40_mm', 'Line at 40 mm'],
  ['pass_film_um', 'One pass'],
  ['fade_bands_l', 'Fade'],
  ['solid_delta_e', 'Solid'],
];

export interface MeasureRow {
  name: string;
  label: string;
  measure: MeasureOut;
}

export function measureRows(found: CardRead): MeasureRow[] {
  return NAMES.flatMap(([name, label]) => {
    const measure = found.measures[name];
    return measure ? [{ name, label, measure }] : [];
  });
}

export const LOOKS: Record<TrialLook, string> = {
  clean: 'Clean',
  spiders: 'Spiders',
  specks: 'Specks',
  dust: 'Dust',
  nothing: 'Nothing came',
  pooled: 'Pooled',
  tip_dry: 'Tip dry',
};

/** The same, told of a place on the window. */
export const HERE: Record<TrialLook, string> = {
  clean: 'clean',
  spiders: 'spiders',
  specks: 'specks',
  dust: 'dust',
  nothing: 'nothing comes',
  pooled: 'pools',
  tip_dry: 'the tip dries',
};

/** Which measure a look is seen by. */
export const SEEN_BY: Partial<Record<TrialLook, string>> = {
  spiders: 'finger_mm',
  pooled: 'finger_mm',
  specks: 'specks_per_cm2',
};

/** What a ring on the photo says. */
export const RING_WORDS: Record<string, string> = {
  finger_mm: 'fingers: spiders',
  specks_per_cm2: 'specks',
};

/** The one change, in pairs of a knob's two ways. */
export const CHANGES: [change: PracticeChange, label: string][] = [
  ['nearer', 'Nearer'],
  ['farther', 'Farther'],
  ['more_thinner', 'More thinner'],
  ['less_thinner', 'Less thinner'],
  ['more_pressure', 'More pressure'],
  ['less_pressure', 'Less pressure'],
  ['more_trigger', 'More trigger'],
  ['less_trigger', 'Less trigger'],
  ['faster', 'Faster hand'],
  ['slower', 'Slower hand'],
  ['retarder', 'Retarder'],
  ['leave', 'Leave it'],
];
export const CHANGE_LABEL = Object.fromEntries(CHANGES) as Record<PracticeChange, string>;
