import type { Aim, Coat, HandStep } from '@/api/client';

/** What a step can be for, in the words of the trade; sprayed first, then by hand. */
export const TASKS: { id: Coat['task']; label: string }[] = [
  { id: 'seal', label: 'Seal: soft groundwork, before anything else' },
  { id: 'prime', label: 'Ground: cover all round and below' },
  { id: 'cover', label: 'Base: the colour that covers' },
  { id: 'light', label: 'Light: a lighter coat from the light' },
  { id: 'rung', label: 'Rung: one step of a colour' },
  { id: 'metal', label: 'Metal' },
  { id: 'tint', label: 'Tint: transparent colour on one side' },
  { id: 'veil', label: 'Veil: transparent colour over all' },
  { id: 'glow', label: 'Glow round a lamp, a fire, a pool' },
  { id: 'wash', label: 'Wash, sprayed' },
  { id: 'gloss', label: 'Gloss varnish' },
  { id: 'satin', label: 'Satin varnish' },
  { id: 'matt', label: 'Matt varnish' },
];
export const HAND_ROLES: { id: HandStep['role']; label: string; paint: boolean }[] = [
  { id: 'wash', label: 'Wash by brush', paint: true },
  { id: 'dry_brush', label: 'Dry brush', paint: true },
  { id: 'edge_lines', label: 'Edge lines', paint: true },
  { id: 'chips', label: 'Chips', paint: true },
  { id: 'streaks', label: 'Streaks pulled with spirit', paint: true },
  { id: 'rim', label: 'Base rim', paint: true },
  { id: 'mask_on', label: 'Mask on', paint: false },
  { id: 'mask_off', label: 'Mask off', paint: false },
  { id: 'rest', label: 'Rest: leave it alone', paint: false },
];
/** Paint kinds that a role asks for; none means any. */
export const KINDS_FOR: Partial<Record<Coat['task'], string[]>> = {
  metal: ['metallic'],
  gloss: ['varnish'],
  satin: ['varnish'],
  matt: ['varnish'],
  seal: ['varnish', 'primer'],
};
export const AIM_LABELS: Record<Aim['field'], string> = {
  recesses: 'into recesses',
  panels: 'into the middle of panels',
  edges: 'along edges that face up',
  ramp: 'a ramp from the foot to the top',
  glow: 'round a glow',
  part: 'over one part',
};
