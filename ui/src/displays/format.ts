/** Numbers, times and steps as people read them; units by setting. */
import type { Step } from '@/api/client';
import { BARE, BY_HAND, SPRAYED } from '@/craft.generated';

export const PSI_IN_BAR = 0.06894757;

export function decimals(value: number, digits: number): string {
  return value.toLocaleString(undefined, {
    minimumFractionDigits: 0,
    maximumFractionDigits: digits,
    useGrouping: false,
  });
}

export function pressure(psi: number, unit: string): { first: string; second: string } {
  const inPsi = `${decimals(psi, 1)} psi`;
  const inBar = `${decimals(psi * PSI_IN_BAR, 2)} bar`;
  return unit === 'bar' ? { first: inBar, second: inPsi } : { first: inPsi, second: inBar };
}

export function duration(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds / 5) * 5)} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 90) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

export function clock(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`;
}

export function share(value: number): string {
  if (value > 0 && value < 0.005) return '< 1 %';
  return `${Math.round(value * 100)} %`;
}

const DATE = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' });

export function when(iso: string): string {
  return DATE.format(new Date(iso));
}

/** A number typed with a decimal point or comma; null when it is none. */
export function parseNumber(text: string): number | null {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(value) ? value : null;
}

const WORDS = new Map<string, string>([...SPRAYED, ...BY_HAND].map((s) => [s.id, s.word]));

/** What a step is for, by its task or its role by hand. */
export function stepWords(step: Step): string {
  return WORDS.get(step.kind === 'spray' ? step.task : step.role) ?? '';
}

/** The colour a step is told by: its first paint; grey without one. */
export function stepColour(step: Step): string {
  return step.paint?.masstone ?? BARE;
}
