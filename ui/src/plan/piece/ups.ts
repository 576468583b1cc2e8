import type { Plan } from '@/api/client';

export type Up = Plan['piece']['up'];
/** The axes of a mesh file that may point up, in words. */
export const UPS: { id: Up; label: string }[] = [
  { id: 'z', label: 'z up' },
  { id: 'y', label: 'y up' },
  { id: 'x', label: 'x up' },
  { id: '-z', label: 'z down' },
  { id: '-y', label: 'y down' },
  { id: '-x', label: 'x down' },
];
