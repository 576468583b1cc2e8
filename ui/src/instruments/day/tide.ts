import type { DayRow } from '@/api/client';

/** How far down the page minutes lie, so that short rows can still be read. */
export interface Placed {
  row: DayRow;
  /** Its place among all rows of the laid day. */
  index: number;
  top: number;
  height: number;
}

/** One sitting: its rows from the top, and where any minute of it lies. */
export interface Sitting {
  day: number;
  placed: Placed[];
  height: number;
  y: (minute: number) => number;
}

const PER_MINUTE = 2;
const LEAST: Record<DayRow['kind'], number> = {
  open: 24,
  close: 24,
  work: 25,
  clean: 20,
  free: 20,
  break: 20,
};
/** What a finger can press, and the hairline above it. */
const FINGER = 45;
/** From this height on a row of work has room for how it is done. */
export const ROOM_FOR_SMALL = 42;

/** All sittings; under a finger, rows that can be pressed are as high as one. */
export function sittings(rows: readonly DayRow[], finger = false): Sitting[] {
  const days = [...new Set(rows.map((r) => r.day))];
  return days.map((day) => sitting(day, rows, finger));
}

function sitting(day: number, rows: readonly DayRow[], finger: boolean): Sitting {
  const placed: Placed[] = [];
  let top = 0;
  rows.forEach((row, index) => {
    if (row.day !== day) return;
    const least = finger && row.kind === 'work' ? FINGER : LEAST[row.kind];
    const height = Math.max(least, (row.to_min - row.from_min) * PER_MINUTE);
    placed.push({ row, index, top, height });
    top += height;
  });
  return { day, placed, height: top, y: (minute) => placeOf(placed, minute) };
}

function placeOf(placed: readonly Placed[], minute: number): number {
  for (const { row, top, height } of placed) {
    if (minute > row.to_min) continue;
    const share = (minute - row.from_min) / Math.max(row.to_min - row.from_min, 1e-9);
    return top + height * Math.max(0, share);
  }
  const last = placed.at(-1);
  return last ? last.top + last.height : 0;
}

/** Full hours of the clock within a sitting, minutes from the start of the first day. */
export function hoursWithin(sitting: Sitting, startMin: number): number[] {
  const first = sitting.placed[0]?.row.from_min ?? 0;
  const last = sitting.placed.at(-1)?.row.to_min ?? 0;
  const found: number[] = [];
  for (let hour = Math.ceil((first + startMin) / 60); hour * 60 - startMin <= last; hour += 1)
    found.push(hour * 60 - startMin);
  return found;
}
