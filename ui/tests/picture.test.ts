import { describe, expect, it } from 'vitest';

import { framed, outermost } from '@/instruments/piece/framing';
import { grainBytes, ranked } from '@/instruments/piece/grain';

const CARD = { width: 600, height: 400 };
const NONE = { top: 0, bottom: 0 };
const FRONT = { azimuth: 0, elevation: 0 };

/** Corners of a box about the origin. */
function box(x: number, y: number, z: number): Float32Array {
  const out: number[] = [];
  for (const i of [-1, 1])
    for (const j of [-1, 1]) for (const k of [-1, 1]) out.push(i * x, j * y, k * z);
  return Float32Array.from(out);
}

describe('how the card frames a piece', () => {
  it('lets the wider of both ways fill the card', () => {
    // a tall piece: 200 high, 20 wide; the card shows 200 along its height
    expect(framed(box(10, 10, 100), FRONT, CARD, NONE, 1).half).toBeCloseTo(100);
    // a broad one: 240 wide on 600 px, so 400 px show 160
    expect(framed(box(120, 10, 20), FRONT, CARD, NONE, 1).half).toBeCloseTo(80);
    // looked at from its end it is narrow, and comes nearer
    const end = framed(box(120, 10, 20), { azimuth: 90, elevation: 0 }, CARD, NONE, 1);
    expect(end.half).toBeCloseTo(20);
  });
  it('keeps clear of words over the card', () => {
    const { half, y } = framed(box(10, 10, 100), FRONT, CARD, { top: 40, bottom: 0 }, 1);
    // 200 on 360 px; its top lies 40 px below the card's
    expect(half).toBeCloseTo((200 / 360) * 200);
    const px = (2 * half) / CARD.height;
    expect((y + half - 100) / px).toBeCloseTo(40);
    expect((-100 - (y - half)) / px).toBeCloseTo(0);
  });
  it('puts the middle of what is seen in the middle of the card', () => {
    const high = Float32Array.from([0, 0, 10, 0, 0, 50]);
    expect(framed(high, FRONT, CARD, NONE, 1).y).toBeCloseTo(30);
    const above = framed(box(5, 5, 50), { azimuth: 0, elevation: 90 }, CARD, NONE, 1);
    expect(above.half).toBeCloseTo(5);
  });
  it('knows a piece by its outermost points', () => {
    const points = outermost(Float32Array.from([...box(30, 20, 50), 0, 0, 0, 3, -2, 8]));
    const all = framed(box(30, 20, 50), { azimuth: 33, elevation: 20 }, CARD, NONE, 1);
    expect(framed(points, { azimuth: 33, elevation: 20 }, CARD, NONE, 1)).toEqual(all);
  });
});

describe('the grain', () => {
  it('has every share above its rank', () => {
    const bytes = grainBytes();
    for (const channel of [0, 1]) {
      const values = bytes.filter((_, i) => i % 2 === channel);
      for (const share of [0.02, 0.2, 0.5, 0.9]) {
        const above = values.filter((v) => v / 255 > 1 - share).length / values.length;
        expect(Math.abs(above - share)).toBeLessThan(0.012);
      }
    }
  });
  it('is the same every time, and smooth', () => {
    const [one, two] = [grainBytes(), grainBytes()];
    expect(one.every((v, i) => v === two[i])).toBe(true);
    const clumps = one.filter((_, i) => i % 2 === 0);
    let steps = 0;
    for (let i = 1; i < 64; i += 1) steps += Math.abs(clumps[i]! - clumps[i - 1]!);
    expect(steps / 63).toBeLessThan(45);
    expect(steps).toBeGreaterThan(200);
  });
  it('ranks what is equal alike', () => {
    expect([...ranked(Float32Array.from([5, 5, 5]))]).toEqual([255, 255, 255]);
    const spread = ranked(Float32Array.from({ length: 512 }, (_, i) => i));
    expect([spread[0], spread[256], spread[511]]).toEqual([0, 128, 255]);
  });
});
