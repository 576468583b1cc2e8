/** Numbers, times and steps as people read them; units by setting. */
import type { Role, Step } from '@/api/client';
import { BARE, BY_HAND, SPRAYED } from '@/craft.generated';

import { numerals, shownAs } from './units';

export const PSI_IN_BAR = 0.06894757;

export function decimals(value: number, digits: number): string {
  return value.toLocaleString(numerals(), {
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

/** The needle beside an airbrush's name; empty when the name tells it already. */
export function needleBeside(name: string, needleMm: number): string {
  const told = `${decimals(needleMm, 2)} mm`;
  return name.includes(told) || name.includes(`${needleMm} mm`) ? '' : told;
}

/** "65 mm" or "2.56 in". */
export function length(mm: number, digits = 0): string {
  return told(mm, 'mm', digits);
}
/** "90 mm/s" or "3.5 in/s". */
export function speed(mmS: number): string {
  return told(mmS, 'mm/s', 0);
}
/** "20 °C" or "68 °F". */
export function temperature(celsius: number, digits = 1): string {
  return told(celsius, '°C', digits);
}
function told(value: number, unit: string, digits: number): string {
  const as = shownAs(unit);
  return `${decimals(as.to(value), digits + as.more)} ${as.unit}`;
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

/** "15 thinner + 4 + 8": drops in pouring order; what is no paint by its word. */
export function cupWords(poured: readonly { role: Role; drops: number }[]): string {
  return poured
    .map(({ role, drops }) =>
      role === 'paint' ? `${drops}` : `${drops} ${role.replace('_', ' ')}`,
    )
    .join(' + ');
}

export function issues(count: number): string {
  return `${count} ${count === 1 ? 'issue' : 'issues'}`;
}

export function share(value: number): string {
  if (value > 0 && value < 0.005) return '< 1 %';
  return `${Math.round(value * 100)} %`;
}

/** A moment in words; the text it came as when it is none, for one odd date must stop no screen. */
function formatted(form: Intl.DateTimeFormat, at: Date, text: string): string {
  return Number.isNaN(at.getTime()) ? text : form.format(at);
}

/** A date "2026-11-28" and so many days on, at midnight of the reader's clock. */
function midnight(date: string, on = 0): Date {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  return new Date(year, month - 1, day + on);
}

const DATE = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' });

export function when(iso: string): string {
  return formatted(DATE, new Date(iso), iso);
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

const MIDNIGHT = 24 * 60;

/** "14:05" of minutes from midnight, of whichever day. */
export function clockTime(minutes: number): string {
  const whole = ((Math.round(minutes) % MIDNIGHT) + MIDNIGHT) % MIDNIGHT;
  return `${String(Math.floor(whole / 60)).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}`;
}

/** Minutes from midnight of "14:05". */
export function minutesOf(time: string): number {
  const [hours, minutes] = time.split(':').map(Number) as [number, number];
  return 60 * hours + minutes;
}

const DAY_NAME = new Intl.DateTimeFormat(undefined, {
  weekday: 'long',
  day: 'numeric',
  month: 'long',
});

/** "Saturday, 28 November": a date "2026-11-28" and so many days on. */
export function dayName(date: string, on = 0): string {
  return formatted(DAY_NAME, midnight(date, on), date);
}

const WEEKDAY = new Intl.DateTimeFormat(undefined, { weekday: 'long' });

/** "Saturday": a date "2026-11-28" and so many days on. */
export function weekday(date: string, on = 0): string {
  return formatted(WEEKDAY, midnight(date, on), date);
}

const SHORT_DAY = new Intl.DateTimeFormat(undefined, {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
});
const THIS_YEAR = new Date().getFullYear();

/** "Sat 21 Nov", with its year when it is not this one's. */
export function shortDay(date: string): string {
  const at = midnight(date);
  const told = formatted(SHORT_DAY, at, date);
  const year = at.getFullYear();
  return year === THIS_YEAR || Number.isNaN(year) ? told : `${told} ${year}`;
}

const TIME = new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit' });

/** "14:05" of a moment in UTC, on the reader's clock. */
export function timeOf(iso: string): string {
  return formatted(TIME, new Date(iso), iso);
}

/** "2026-11-28" on the painter's own clock, so many days from now. */
export function dateFromNow(days = 0): string {
  const at = new Date();
  at.setDate(at.getDate() + days);
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}

/** "3 h 24" or "45 min" of working minutes. */
export function hoursWords(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${whole} min`;
  return `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')}`;
}
