import type { components } from '@/api/schema';

/** What a gradient of asked colours follows, and what its start, middle and end are called. */
export type Along = components['schemas']['Asked']['along'];
export const WAYS: Record<Along, string> = {
  light: 'The light: shade to light',
  height: 'The height: foot to top',
  across: 'Across: left to right',
  facing: 'What faces where: belly to back',
};
export const PLACES_ALONG: Record<Along, [string, string, string]> = {
  light: ['In the shade', 'In the half light', 'In the light'],
  height: ['At the foot', 'Half way up', 'At the top'],
  across: ['On the left', 'In the middle', 'On the right'],
  facing: ['Belly', 'Where they meet', 'Back'],
};
