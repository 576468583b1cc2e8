import type { Additive, SprayAt } from '@/api/client';
import { DIALS, type Knob } from '@/craft.generated';
import { decimals, duration, length, pressure, PSI_IN_BAR, speed } from '@/displays/format';

/** How the knobs of a setting are told and typed; the pressure in the unit that is set. */
export interface KnobWords {
  label: string;
  shown: (value: number) => { first: string; second?: string };
  typed: { unit: string; factor: number; digits: number };
}

export function knobWords(unit: string): Record<Knob, KnobWords> {
  return {
    pressure_psi: {
      label: DIALS.pressure_psi.label,
      shown: (v) => pressure(v, unit),
      typed:
        unit === 'bar'
          ? { unit: 'bar', factor: PSI_IN_BAR, digits: 2 }
          : { unit: 'psi', factor: 1, digits: 1 },
    },
    thinner_parts: {
      label: DIALS.thinner_parts.label,
      shown: (v) => ({ first: `${decimals(v, 2)} : 1` }),
      typed: { unit: ': 1', factor: 1, digits: 2 },
    },
    trigger: {
      label: DIALS.trigger.label,
      shown: (v) => ({ first: `${decimals(v * 100, 0)} %` }),
      typed: { unit: '%', factor: 100, digits: 0 },
    },
    distance_mm: {
      label: DIALS.distance_mm.label,
      shown: (v) => ({ first: length(v) }),
      typed: { unit: 'mm', factor: 1, digits: 0 },
    },
    speed_mm_s: {
      label: DIALS.speed_mm_s.label,
      shown: (v) => ({ first: speed(v) }),
      typed: { unit: 'mm/s', factor: 1, digits: 0 },
    },
  };
}

/** Knobs that are set alike in a recipe, at a point and in a setting. */
export const SET = [
  'thinner_parts',
  'trigger',
  'pressure_psi',
  'distance_mm',
  'speed_mm_s',
  'rest_s',
  'blown',
] as const;

/** Knobs that have a scale of their own. */
function isKnob(name: string): name is Knob {
  return name in DIALS && name !== 'rest_s' && name !== 'retarder_parts';
}

/** A setting with some knobs turned; a rest is one that is blown dry. */
export function turned(spray: SprayAt, knobs: Record<string, number>): SprayAt {
  return { ...spray, ...knobs, ...('rest_s' in knobs ? { blown: true } : {}) };
}

/** What is added to paint and thinner, as a setting names it. */
export function additives(spray: SprayAt): Additive[] {
  const parts = [
    { kind: 'flow_aid' as const, parts: spray.flow_aid_parts ?? 0 },
    { kind: 'retarder' as const, parts: spray.retarder_parts ?? 0 },
  ];
  return parts.filter((one) => one.parts > 0);
}

/** What a knob is called, and a value of it in words; a rest among them. */
export function knobLabel(knob: string): string {
  if (knob === 'passes') return 'Rounds';
  return DIALS[knob as keyof typeof DIALS]?.label ?? knob;
}
export function knobValue(knob: string, value: number, unit: string): string {
  if (isKnob(knob)) return knobWords(unit)[knob].shown(value).first;
  if (knob === 'retarder_parts') return `${decimals(value, 2)} : 1`;
  return knob === 'rest_s' ? `${duration(value)} blown dry` : decimals(value, 0);
}
