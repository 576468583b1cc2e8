import type { PlanSummary } from '@/api/client';
import { shortDay, when } from '@/displays/format';

/** Whether something of a plan was done at the booth, and not all of it. */
export function underWay(plan: PlanSummary): boolean {
  return !!plan.done && plan.done.steps < plan.done.of;
}

/** What comes next of a plan: go on, its first coats, what is to mind, the day, or once more. */
export const NEXT = {
  booth: { words: 'Go on at the booth', step: 'booth' },
  coats: { words: 'Choose the coats', step: 'coats' },
  mind: { words: 'See what to mind', step: 'coats' },
  day: { words: 'Look at the day', step: 'day' },
  again: { words: 'Do it again', step: null },
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

/** What is to mind first, and when it was saved. */
export function first(plan: PlanSummary): string {
  if (plan.stands?.first) return `${plan.stands.to_mind} to mind: ${plan.stands.first}`;
  return `${plan.stands ? 'nothing to mind' : 'looking it over'} · saved ${when(plan.updated_at)}`;
}
