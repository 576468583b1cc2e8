import type { PlanSummary } from '@/api/client';
import { issues, shortDay, when } from '@/displays/format';

/** Whether something of a plan was done at the booth, and not all of it. */
export function underWay(plan: PlanSummary): boolean {
  return !!plan.done && plan.done.steps < plan.done.of;
}

/** What comes next of a plan: go on, its first coats, issues, the day, or a repeat. */
export const NEXT = {
  booth: { words: 'Go on at the booth', step: 'booth' },
  coats: { words: 'Choose the coats', step: 'coats' },
  mind: { words: 'See issues', step: 'coats' },
  day: { words: 'Open day', step: 'day' },
  again: { words: 'Repeat', step: null },
} as const;
export function nextOf(plan: PlanSummary): (typeof NEXT)[keyof typeof NEXT] {
  if (!plan.coats) return NEXT.coats;
  if (underWay(plan)) return NEXT.booth;
  if (plan.done) return NEXT.again;
  return plan.stands?.to_mind ? NEXT.mind : NEXT.day;
}

/** Where a plan stands, in few words. */
export function where(plan: PlanSummary): string {
  if (underWay(plan)) return `step ${plan.done!.steps + 1} of ${plan.done!.of}`;
  if (plan.done) {
    const rated = plan.done.rating ? `, rated ${plan.done.rating} of 5` : '';
    return `done ${shortDay(plan.done.date)}${rated}`;
  }
  if (!plan.coats) return 'no steps yet';
  const steps = `${plan.coats} ${plan.coats === 1 ? 'step' : 'steps'}`;
  return plan.stands ? `${steps} · hands ${plan.stands.hands}` : `${steps} planned`;
}

/** Its first issue, or when it was saved. */
export function first(plan: PlanSummary): string {
  if (plan.stands?.first) return `${issues(plan.stands.to_mind)}: ${plan.stands.first}`;
  return `${plan.stands ? 'no issues' : 'checking'} · saved ${when(plan.updated_at)}`;
}
