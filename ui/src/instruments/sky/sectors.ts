import { RADIUS, spotOf, type Angles } from './projection';

type Vector = [number, number, number];

function vectorOf({ azimuth, elevation }: Angles): Vector {
  const a = (azimuth * Math.PI) / 180;
  const e = (elevation * Math.PI) / 180;
  return [-Math.sin(a) * Math.cos(e), -Math.cos(a) * Math.cos(e), Math.sin(e)];
}

function anglesOf([x, y, z]: Vector): Angles {
  return {
    azimuth: (Math.atan2(-x, -y) * 180) / Math.PI,
    elevation: (Math.asin(Math.min(1, Math.max(-1, z))) * 180) / Math.PI,
  };
}

function cross(a: Vector, b: Vector): Vector {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

function unit(v: Vector): Vector {
  const l = Math.hypot(...v);
  return [v[0] / l, v[1] / l, v[2] / l];
}

/**
 * A cone of the sky as a path on the disc, to be filled by the even-odd rule. The rim is one
 * direction (straight below): a cone that holds it is what lies between its border and the rim.
 */
export function conePath(middle: Angles, halfAngle: number): string {
  const m = vectorOf(middle);
  const side = unit(cross(Math.abs(m[2]) > 0.9 ? [1, 0, 0] : [0, 0, 1], m));
  const other = cross(m, side);
  const c = Math.cos((halfAngle * Math.PI) / 180);
  const s = Math.sin((halfAngle * Math.PI) / 180);
  const points = Array.from({ length: 96 }, (_, i) => {
    const t = (i / 96) * 2 * Math.PI;
    const v = [0, 1, 2].map(
      (k) => c * m[k]! + s * (Math.cos(t) * side[k]! + Math.sin(t) * other[k]!),
    ) as Vector;
    const at = spotOf(anglesOf(v));
    return `${at.x.toFixed(2)} ${at.y.toFixed(2)}`;
  });
  const border = `M${points.join(' L')} Z`;
  const holdsNadir = -m[2] > c;
  const rim = `M${RADIUS} 0 A${RADIUS} ${RADIUS} 0 1 1 ${-RADIUS} 0 A${RADIUS} ${RADIUS} 0 1 1 ${RADIUS} 0 Z`;
  return holdsNadir ? `${border} ${rim}` : border;
}
