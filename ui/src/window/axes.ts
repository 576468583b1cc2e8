import type { WindowAxis } from '@/instruments/window/SprayWindow.vue';
import { DIALS, type Knob } from '@/craft.generated';
import { decimals, length, pressure, speed } from '@/displays/format';

/** A knob that can lie on an axis of the window, and from where to where. */
export interface Axis extends WindowAxis {
  knob: Knob;
}

type Words = (value: number, unit: string) => string;
const ROWS: Record<
  Knob,
  { label: string; high: number; low: number; every: number; words: Words }
> = {
  thinner_parts: {
    label: 'thinner to paint',
    low: 0,
    high: 4.5,
    every: 1,
    words: (v) => (v === 0 ? '0' : `${decimals(v, 2)} : 1`),
  },
  pressure_psi: {
    label: 'pressure',
    low: 2,
    high: 36,
    every: 10,
    words: (v, unit) => pressure(v, unit).first,
  },
  trigger: {
    label: 'trigger stop',
    low: 0.05,
    high: 1,
    every: 0.25,
    words: (v) => `${decimals(v * 100, 0)} %`,
  },
  distance_mm: {
    label: 'distance',
    low: 5,
    high: 150,
    every: 50,
    words: (v) => length(v),
  },
  speed_mm_s: {
    label: 'hand',
    low: 20,
    high: 240,
    every: 50,
    words: (v) => speed(v),
  },
};
const FINE: Partial<Record<Knob, number>> = { distance_mm: 1, thinner_parts: 0.05 };

/** The axis of a knob; the pressure in the unit that is set. */
export function axisOf(knob: Knob, unit: string): Axis {
  const row = ROWS[knob];
  const first = Math.ceil(row.low / row.every) * row.every;
  const ticks: number[] = [];
  for (let at = first; at <= row.high + 1e-9; at += row.every) ticks.push(Number(at.toFixed(3)));
  return {
    knob,
    label: row.label,
    low: row.low,
    high: row.high,
    step: FINE[knob] ?? DIALS[knob].step,
    ticks,
    words: (value) => row.words(value, unit),
  };
}

export const AXES = Object.keys(ROWS) as Knob[];
