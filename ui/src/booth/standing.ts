import type { BoothEvent, BoothStep } from '@/api/client';

/** How the booth stands after what was pressed: the last word about each count of each step. */
export interface Standing {
  /** Minutes each count was done at, by `step#count`. */
  done: Map<string, number>;
  skipped: Map<string, number>;
  /** Minutes a wait was begun at by hand, by step. */
  waiting: Map<string, number>;
  wrong: Set<string>;
}

export function standing(events: Iterable<BoothEvent>): Standing {
  const done = new Map<string, number>();
  const skipped = new Map<string, number>();
  const waiting = new Map<string, number>();
  const wrong = new Set<string>();
  const ordered = [...events].sort((a, b) => compare(a.at, b.at) || compare(a.id, b.id));
  for (const e of ordered) {
    if (e.kind === 'done' || e.kind === 'tried') done.set(countKey(e.step, e.number), e.minute);
    else if (e.kind === 'undone') {
      done.delete(countKey(e.step, e.number));
      skipped.delete(e.step);
    } else if (e.kind === 'skipped') skipped.set(e.step, e.minute);
    else if (e.kind === 'redone') {
      skipped.delete(e.step);
      for (const key of [...done.keys()]) if (key.startsWith(`${e.step}#`)) done.delete(key);
    } else if (e.kind === 'waiting') waiting.set(e.step, e.minute);
    else if (e.kind === 'wrong') wrong.add(`${e.plan}#${e.copy_number}`);
    else if (e.kind === 'right') wrong.delete(`${e.plan}#${e.copy_number}`);
  }
  return { done, skipped, waiting, wrong };
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

export function countKey(step: string, count: number): string {
  return `${step}#${count}`;
}

/** How many counts of a step are done, from its first. */
export function doneOf(state: Standing, step: BoothStep): number {
  let n = 0;
  while (n < step.count && state.done.has(countKey(step.id, n))) n += 1;
  return n;
}

export function isOver(state: Standing, step: BoothStep): boolean {
  return state.skipped.has(step.id) || doneOf(state, step) >= step.count;
}

/** When a step was over, minutes from the start of the day; null while it is not. */
export function overAt(state: Standing, step: BoothStep): number | null {
  if (!isOver(state, step)) return null;
  const at = [...Array(step.count).keys()].map((n) => state.done.get(countKey(step.id, n)) ?? -1e9);
  return Math.max(state.skipped.get(step.id) ?? -1e9, ...at);
}

/** When what a step waits for is dry, minutes from the start of the day; null when nothing is. */
export function readyAt(
  state: Standing,
  step: BoothStep,
  byEntry: ReadonlyMap<string, BoothStep[]>,
): number | null {
  if (!step.after) return null;
  const by_hand = state.waiting.get(step.id);
  if (by_hand !== undefined) return by_hand + step.after.minutes;
  const before = byEntry.get(step.after.step) ?? [];
  const ends = before.map((s) => overAt(state, s));
  if (!ends.length || ends.some((at) => at === null)) return null;
  return Math.max(...(ends as number[])) + step.after.minutes;
}
