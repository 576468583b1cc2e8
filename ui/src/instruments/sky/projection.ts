/** The sky as a disc: azimuthal equidistant, overhead in the middle, show side at the bottom. */
export const RADIUS = 100;

export interface Spot {
  x: number;
  y: number;
}

export interface Angles {
  azimuth: number;
  elevation: number;
}

/** Where a direction lies on the disc; x to the right, y down. */
export function spotOf({ azimuth, elevation }: Angles): Spot {
  const r = (RADIUS * (90 - elevation)) / 180;
  const a = (azimuth * Math.PI) / 180;
  return { x: -Math.sin(a) * r, y: Math.cos(a) * r };
}

/** The direction under a spot; spots beyond the rim count as the rim. */
export function anglesOf({ x, y }: Spot): Angles {
  const r = Math.min(Math.hypot(x, y), RADIUS);
  const azimuth = ((Math.atan2(-x, y) * 180) / Math.PI + 360) % 360;
  return { azimuth, elevation: 90 - (180 * r) / RADIUS };
}

export function tidy(value: number): number {
  return Math.round(value);
}
