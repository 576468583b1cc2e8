import { api, take, type Plan, type Schools } from '@/api/client';
import type { components } from '@/api/schema';

import type { Along } from './gradient';

export type What = components['schemas']['StartBody']['what'];
export const WHATS: { id: What; label: string }[] = [
  { id: 'figure', label: 'A figure' },
  { id: 'bust', label: 'A bust' },
  { id: 'vehicle', label: 'A vehicle' },
  { id: 'terrain', label: 'Terrain' },
];
/** The light of the plan as it stands, instead of a preset. */
export const AS_PLANNED = 'as_planned';

/** What a painter says of a scheme: what it is, what light, what colours, and what goes on top. */
export interface Answers {
  what: What;
  light: string;
  gradient: boolean;
  along: Along;
  colours: string[];
  wash: boolean;
  worn: boolean;
}

export function freshAnswers(light: string): Answers {
  return {
    what: 'figure',
    light,
    gradient: false,
    along: 'light',
    colours: ['#4b5a35'],
    wash: false,
    worn: false,
  };
}

/** The plan under the light that was answered. */
export async function litBy(plan: Plan, light: string): Promise<Plan> {
  if (light === AS_PLANNED) return plan;
  const { lights } = await take(api.POST('/api/light/preset', { body: { plan, preset: light } }));
  return { ...plan, lights };
}

/** What the server is asked for a scheme on a plan; by the plan's schools unless others are given. */
export function asking(
  plan: Plan,
  { what, colours, gradient, along, wash, worn }: Answers,
  schools: Schools | null = null,
) {
  return { plan, what, colours, gradient, along, wash, worn, schools };
}
