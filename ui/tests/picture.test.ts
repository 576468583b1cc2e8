import { describe, expect, it } from 'vitest';

import { framed, outermost } from '@/instruments/piece/framing';
import { grainBytes, ranked } from '@/instruments/piece/grain';
import { HOME, type View } from '@/instruments/piece/view';
import { magnified, moved, turned } from '@/instruments/piece/viewpoint';

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

describe('from where a piece is looked at', () => {
  it('turns all round but not over the top', () => {
    expect(turned(HOME, -30, 0).azimuth).toBe(348);
    expect(turned(HOME, 0, 200).elevation).toBe(89);
    expect(turned(HOME, 0, -200).elevation).toBe(-89);
  });
  it('keeps what lies under a point of the card where it is when it comes nearer', () => {
    const card = { width: 600, height: 400 };
    // where a point of the card looks, in half heights of the piece's own card
    const under = (view: View, x: number, y: number) => [
      view.pan[0] + ((2 * x - 1) * 1.5) / view.zoom,
      view.pan[1] + (1 - 2 * y) / view.zoom,
    ];
    const near = magnified(HOME, card, 2.5, 0.7, 0.3);
    expect(near.zoom).toBeCloseTo(2.5);
    under(near, 0.7, 0.3).forEach((v, i) => expect(v).toBeCloseTo(under(HOME, 0.7, 0.3)[i]!));
    expect(magnified(near, card, 0.1, 0.5, 0.5).pan).toEqual([0, 0]);
  });
  it('moves by as many pixels as the hand, and never out of sight', () => {
    const card = { width: 600, height: 400 };
    const near = { ...HOME, zoom: 4 };
    // 40 px are a fifth of half the card, a quarter of that four times as near
    expect(moved(near, card, 40, 20).pan).toEqual([-0.05, 0.025]);
    expect(moved(near, card, 1e6, -1e6).pan).toEqual([-1.5, -1]);
  });
});
