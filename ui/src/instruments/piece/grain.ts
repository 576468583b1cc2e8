import { Data3DTexture, LinearFilter, RepeatWrapping, RGFormat, UnsignedByteType } from 'three';

/** Grains along a side of the tile, and texels along it. */
export const GRAINS = 16;
const TEXELS = 64;
const OCTAVES: [cells: number, weight: number][] = [
  [GRAINS, 0.6],
  [2 * GRAINS, 0.28],
  [4 * GRAINS, 0.12],
];

/** Even random numbers, the same every time. */
function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Smooth noise that tiles, over a lattice of so many cells a side. */
function addSmooth(out: Float32Array, cells: number, weight: number): void {
  const next = random(cells);
  const lattice = Float32Array.from({ length: cells ** 3 }, next);
  const step = cells / TEXELS;
  const low = new Int32Array(TEXELS);
  const part = new Float32Array(TEXELS);
  for (let i = 0; i < TEXELS; i += 1) {
    low[i] = Math.floor(i * step);
    const p = i * step - low[i]!;
    part[i] = p * p * (3 - 2 * p);
  }
  for (let z = 0, n = 0; z < TEXELS; z += 1) {
    for (let y = 0; y < TEXELS; y += 1) {
      const [v, w] = [part[y]!, part[z]!];
      const near = [row(y, z, 0, 0), row(y, z, 1, 0), row(y, z, 0, 1), row(y, z, 1, 1)];
      for (let x = 0; x < TEXELS; x += 1, n += 1) {
        const i = low[x]!;
        const i1 = (i + 1) % cells;
        const u = part[x]!;
        let sum = 0;
        for (let c = 0; c < 4; c += 1) {
          const weightOf = (c & 1 ? v : 1 - v) * (c & 2 ? w : 1 - w);
          sum += weightOf * (lattice[near[c]! + i]! * (1 - u) + lattice[near[c]! + i1]! * u);
        }
        out[n]! += weight * sum;
      }
    }
  }

  function row(y: number, z: number, up: number, deep: number): number {
    return (((low[z]! + deep) % cells) * cells + ((low[y]! + up) % cells)) * cells;
  }
}

/** Nearness to balls strewn one a cell, each of its own size; it tiles. */
function dots(): Float32Array {
  const next = random(7);
  const at = Float32Array.from({ length: 3 * GRAINS ** 3 }, next);
  const size = Float32Array.from({ length: GRAINS ** 3 }, () => 1 / (0.5 + next()) ** 2);
  const out = new Float32Array(TEXELS ** 3);
  const step = GRAINS / TEXELS;
  for (let z = 0, n = 0; z < TEXELS; z += 1) {
    for (let y = 0; y < TEXELS; y += 1) {
      for (let x = 0; x < TEXELS; x += 1, n += 1) out[n] = -nearest(x * step, y * step, z * step);
    }
  }
  return out;

  function nearest(px: number, py: number, pz: number): number {
    let near = Infinity;
    const [i, j, k] = [Math.floor(px), Math.floor(py), Math.floor(pz)];
    for (let c = k - 1; c <= k + 1; c += 1) {
      const layer = ((c + GRAINS) % GRAINS) * GRAINS;
      for (let b = j - 1; b <= j + 1; b += 1) {
        const row = (layer + ((b + GRAINS) % GRAINS)) * GRAINS;
        for (let a = i - 1; a <= i + 1; a += 1) {
          const ball = row + ((a + GRAINS) % GRAINS);
          const dx = a + at[3 * ball]! - px;
          const dy = b + at[3 * ball + 1]! - py;
          const dz = c + at[3 * ball + 2]! - pz;
          const far = (dx * dx + dy * dy + dz * dz) * size[ball]!;
          if (far < near) near = far;
        }
      }
    }
    return near;
  }
}

/** Every value by its rank, 0 to 255: a share s of the room lies above 1 − s. */
export function ranked(values: Float32Array): Uint8Array {
  const sorted = Float32Array.from(values).sort();
  const cuts = Float32Array.from(
    { length: 255 },
    (_, i) => sorted[Math.floor(((i + 1) / 256) * sorted.length)]!,
  );
  const out = new Uint8Array(values.length);
  for (let n = 0; n < values.length; n += 1) {
    const v = values[n]!;
    let low = 0;
    let high = 255;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (v >= cuts[mid]!) low = mid + 1;
      else high = mid;
    }
    out[n] = low;
  }
  return out;
}

/** The values of the tile: clumped grain in one byte, dots in the other, both by rank. */
export function grainBytes(): Uint8Array {
  const smooth = new Float32Array(TEXELS ** 3);
  for (const [cells, weight] of OCTAVES) addSmooth(smooth, cells, weight);
  const [clumps, spots] = [ranked(smooth), ranked(dots())];
  const out = new Uint8Array(2 * clumps.length);
  for (let i = 0; i < clumps.length; i += 1) {
    out[2 * i] = clumps[i]!;
    out[2 * i + 1] = spots[i]!;
  }
  return out;
}

let made: Promise<Uint8Array<ArrayBuffer>> | null = null;

/** The tile's values, made once for all pieces, beside the page's own work. */
function bytesOnce(): Promise<Uint8Array<ArrayBuffer>> {
  made ??= new Promise((done, failed) => {
    const worker = new Worker(new URL('./grain-worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<Uint8Array<ArrayBuffer>>) => {
      done(data);
      worker.terminate();
    };
    worker.onerror = failed;
  });
  return made;
}

/** One tile of grain in three dimensions for the shader. */
export async function grainTexture(): Promise<Data3DTexture> {
  const texture = new Data3DTexture(await bytesOnce(), TEXELS, TEXELS, TEXELS);
  texture.format = RGFormat;
  texture.type = UnsignedByteType;
  texture.minFilter = LinearFilter;
  texture.magFilter = LinearFilter;
  texture.wrapS = texture.wrapT = texture.wrapR = RepeatWrapping;
  texture.needsUpdate = true;
  return texture;
}
