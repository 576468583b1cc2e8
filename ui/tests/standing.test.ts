import { describe, expect, it } from 'vitest';

import type { BoothEvent, BoothStep } from '@/api/client';
import { doneOf, isOver, overAt, readyAt, standing } from '@/booth/standing';

function event(second: number, kind: BoothEvent['kind'], step = 'a', number = 0): BoothEvent {
  return {
    id: `event-${second}`,
    at: new Date(Date.UTC(2026, 10, 28, 14, 0, second)).toISOString(),
    minute: second / 60,
    kind,
    step,
    number,
  } as BoothEvent;
}
function step(id: string, count = 1, after?: BoothStep['after']): BoothStep {
  return { id, entry: id, count, after: after ?? null } as unknown as BoothStep;
}

describe('what was pressed', () => {
  it('stands the same whatever way it came', () => {
    const said = [event(1, 'done'), event(2, 'undone'), event(3, 'done', 'a', 1)];
    const there = standing(said);
    const back = standing([...said].reverse());
    expect([...back.done]).toEqual([...there.done]);
    expect(there.done.size).toBe(1);
  });
  it('counts a count once, from the first on', () => {
    const state = standing([event(1, 'done'), event(2, 'done'), event(3, 'done', 'a', 2)]);
    expect(doneOf(state, step('a', 3))).toBe(1);
    expect(isOver(state, step('a', 1))).toBe(true);
    expect(isOver(state, step('a', 3))).toBe(false);
  });
  it('lets a look at a card count, and a coat be done again', () => {
    expect(isOver(standing([event(1, 'tried')]), step('a'))).toBe(true);
    expect(isOver(standing([event(1, 'tried'), event(2, 'redone')]), step('a'))).toBe(false);
    expect(isOver(standing([event(1, 'skipped')]), step('a', 5))).toBe(true);
  });
  it('waits from the last press of what must dry, or from when the wait was begun', () => {
    const before = step('a', 2);
    const next = step('b', 1, { step: 'a', minutes: 10, latest_min: null });
    const all = new Map([['a', [before]]]);
    expect(readyAt(standing([event(60, 'done')]), next, all)).toBeNull();
    const done = [event(60, 'done'), event(120, 'done', 'a', 1)];
    expect(overAt(standing(done), before)).toBe(2);
    expect(readyAt(standing(done), next, all)).toBe(12);
    expect(readyAt(standing([...done, event(180, 'waiting', 'b')]), next, all)).toBe(13);
  });
});
