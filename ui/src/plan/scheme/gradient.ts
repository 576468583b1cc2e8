import type { components } from '@/api/schema';

/** What a gradient of asked colours follows, and what its start, middle and end are called. */
export type Along = components['schemas']['Asked']['along'];
export const WAYS: { id: Along; label: string }[] = [
  { id: 'light', label: 'The light: shade to light' },
  { id: 'height', label: 'The height: foot to top' },
  { id: 'across', label: 'Across: left to right' },
  { id: 'facing', label: 'What faces where: belly to back' },
];
export const PLACES_ALONG: Record<Along, [string, string, string]> = {
  light: ['In the shade', 'In the half light', 'In the light'],
  height: ['At the foot', 'Half way up', 'At the top'],
  across: ['On the left', 'In the middle', 'On the right'],
  facing: ['Belly', 'Where they meet', 'Back'],
};
