const WAYS = 160;
const GOLDEN = Math.PI * (3 - Math.sqrt(5));

/** What of the card is taken by words over it [px]. */
export interface Insets {
  top: number;
  bottom: number;
}

export interface Framed {
  /** Half of the card's height, and how high its middle looks at, in units of the piece. */
  half: number;
  y: number;
}

/** The outermost points of a piece, three numbers each: as large from every side as all of it. */
export function outermost(positions: Float32Array): Float32Array {
  const out: number[] = [];
  for (let i = 0; i < WAYS; i += 1) {
    const z = 1 - (2 * (i + 0.5)) / WAYS;
    const r = Math.sqrt(1 - z * z);
    const [x, y] = [r * Math.cos(GOLDEN * i), r * Math.sin(GOLDEN * i)];
    let [best, far] = [0, -Infinity];
    for (let v = 0; v < positions.length; v += 3) {
      const d = positions[v]! * x + positions[v + 1]! * y + positions[v + 2]! * z;
      if (d > far) [far, best] = [d, v];
    }
    out.push(positions[best]!, positions[best + 1]!, positions[best + 2]!);
  }
  return Float32Array.from(out);
}

/** How the card frames a piece looked at from a side, so that it fills what is free of the card. */
export function framed(
  points: Float32Array,
  from: { azimuth: number; elevation: number },
  card: { width: number; height: number },
  insets: Insets,
  margin: number,
): Framed {
  const a = (from.azimuth * Math.PI) / 180;
  const e = (from.elevation * Math.PI) / 180;
  let [wide, low, high] = [0, Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 3) {
    const [px, py, pz] = [points[i]!, points[i + 1]!, points[i + 2]!];
    const across = px * Math.cos(a) - py * Math.sin(a);
    const toward = -px * Math.sin(a) - py * Math.cos(a);
    const up = pz * Math.cos(e) - toward * Math.sin(e);
    wide = Math.max(wide, Math.abs(across));
    low = Math.min(low, up);
    high = Math.max(high, up);
  }
  const free = Math.max(1, card.height - insets.top - insets.bottom);
  const perPixel = margin * Math.max((2 * wide) / card.width, (high - low) / free);
  return {
    half: (perPixel * card.height) / 2,
    y: (low + high) / 2 + (perPixel * (insets.top - insets.bottom)) / 2,
  };
}
