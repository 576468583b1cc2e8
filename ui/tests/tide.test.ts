import { describe, expect, it } from 'vitest';

import type { DayRow } from '@/api/client';
import { hoursWithin, sittings } from '@/instruments/day/tide';

function row(from: number, to: number, kind: DayRow['kind'] = 'work', day = 0): DayRow {
  return { kind, day, from_min: from, to_min: to, words: '', copies_from: [] } as unknown as DayRow;
}

describe('the tide table', () => {
  const rows = [row(0, 6, 'open'), row(6, 7, 'clean'), row(7, 60), row(1440, 1446, 'open', 1)];
  it('gives every row room to be read and leaves no gap', () => {
    const [first] = sittings(rows);
    const placed = first!.placed;
    placed.forEach((p, n) => {
      expect(p.height).toBeGreaterThanOrEqual(20);
      if (n) expect(p.top).toBeCloseTo(placed[n - 1]!.top + placed[n - 1]!.height);
    });
    expect(first!.height).toBeCloseTo(placed.at(-1)!.top + placed.at(-1)!.height);
  });
  it('places minutes in order, ends at ends', () => {
    const [first] = sittings(rows);
    let last = -1;
    for (let m = 0; m <= 60; m += 1) {
      expect(first!.y(m)).toBeGreaterThanOrEqual(last);
      last = first!.y(m);
    }
    expect(first!.y(0)).toBe(0);
    expect(first!.y(60)).toBeCloseTo(first!.height);
  });
  it('parts the sittings by their day and names full hours', () => {
    const all = sittings(rows);
    expect(all.map((s) => s.day)).toEqual([0, 1]);
    expect(hoursWithin(all[0]!, 14 * 60 + 30)).toEqual([30]);
  });
});
