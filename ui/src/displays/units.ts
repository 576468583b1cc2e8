import { reactive } from 'vue';

/** Units and signs the reader chose; what is drawn with them follows when they change. */
export const chosen = reactive({
  length: 'mm',
  temperature: 'c',
  volume: 'drops',
  decimal: 'auto',
});

const MM_IN_INCH = 25.4;
const SIGNS: Record<string, string | undefined> = { point: 'en-US', comma: 'de-DE' };

/** The language numbers are written in; the reader's own unless a sign was chosen. */
export function numerals(): string | undefined {
  return SIGNS[chosen.decimal];
}

/** How a value is shown and typed: its unit, the way there and back, and so many more digits. */
export interface Shown {
  unit: string;
  to: (value: number) => number;
  from: (value: number) => number;
  more: number;
}
const AS_IT_IS = (unit: string): Shown => ({ unit, to: (v) => v, from: (v) => v, more: 0 });

/** A unit of the model as the reader reads it. Needles and films stay as the trade tells them. */
export function shownAs(unit: string): Shown {
  if (chosen.length === 'inch' && (unit === 'mm' || unit === 'mm/s'))
    return {
      unit: unit === 'mm' ? 'in' : 'in/s',
      to: (v) => v / MM_IN_INCH,
      from: (v) => v * MM_IN_INCH,
      more: unit === 'mm' ? 2 : 1,
    };
  if (chosen.temperature === 'f' && unit === '°C')
    return { unit: '°F', to: (v) => v * 1.8 + 32, from: (v) => (v - 32) / 1.8, more: 0 };
  return AS_IT_IS(unit);
}
