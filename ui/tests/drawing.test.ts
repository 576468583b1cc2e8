import { describe, expect, it } from 'vitest';

import { coarseCorners } from '@/instruments/piece/coarse';
import { Frame } from '@/instruments/piece/frame';
import { readGeometry } from '@/instruments/piece/geometry';
import { anglesOf, RADIUS, spotOf } from '@/instruments/sky/projection';
import { conePath } from '@/instruments/sky/sectors';

describe('the sky disc', () => {
  it('has overhead in the middle, the horizon half way, straight below on the rim', () => {
    const far = (elevation: number) => {
      const { x, y } = spotOf({ azimuth: 30, elevation });
      return Math.hypot(x, y);
    };
    expect(far(90)).toBeCloseTo(0);
    expect(far(0)).toBeCloseTo(RADIUS / 2);
    expect(far(-90)).toBeCloseTo(RADIUS);
  });

  it('has the show side at the bottom and 90° at the painter’s left', () => {
    const show = spotOf({ azimuth: 0, elevation: 0 });
    expect(show.x).toBeCloseTo(0);
    expect(show.y).toBeGreaterThan(0);
    const left = spotOf({ azimuth: 90, elevation: 0 });
    expect(left.x).toBeLessThan(0);
    expect(left.y).toBeCloseTo(0);
  });

  it.each([
    [0, 45],
    [90, 10],
    [215, -40],
    [359, 80],
  ])('finds azimuth %i, elevation %i again', (azimuth, elevation) => {
    const found = anglesOf(spotOf({ azimuth, elevation }));
    expect(found.azimuth).toBeCloseTo(azimuth);
    expect(found.elevation).toBeCloseTo(elevation);
  });

  it('takes what lies beyond the rim as straight below', () => {
    expect(anglesOf({ x: 300, y: 0 }).elevation).toBe(-90);
  });
});

describe('a blocked cone', () => {
  it('is what lies outside its border when it holds straight below', () => {
    expect(conePath({ azimuth: 0, elevation: -90 }, 30)).toContain(' A');
    expect(conePath({ azimuth: 0, elevation: 20 }, 30)).not.toContain(' A');
  });

  it('is a circle of its half angle round overhead', () => {
    const spots = conePath({ azimuth: 0, elevation: 90 }, 36)
      .replace('M', '')
      .replace(' Z', '')
      .split(' L')
      .map((pair) => pair.split(' ').map(Number));
    expect(spots).toHaveLength(96);
    for (const [x, y] of spots) {
      expect(Math.hypot(x!, y!)).toBeCloseTo((RADIUS * 36) / 180, 1);
    }
  });
});

describe('a piece from the server', () => {
  it('is read in the order it was written, rows padded to four bytes', () => {
    const n = 3;
    const bytes = new ArrayBuffer(8 + n * 12 + n * 4 + 4 + 4 + 12);
    const whole = new DataView(bytes);
    whole.setUint32(0, n, true);
    whole.setUint32(4, 1, true);
    for (let i = 0; i < 9; i += 1) whole.setFloat32(8 + 4 * i, i / 2, true);
    whole.setInt8(8 + 36, -127);
    [10, 20, 30].forEach((v, i) => whole.setUint8(8 + 48 + i, v));
    [0, 1, 2].forEach((v, i) => whole.setUint8(8 + 52 + i, v));
    [2, 1, 0].forEach((v, i) => whole.setUint32(8 + 56 + 4 * i, v, true));
    const found = readGeometry(bytes);
    expect(found.vertices).toBe(3);
    expect([...found.positions]).toEqual([0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4]);
    expect(found.normals[0]).toBe(-127);
    expect([...found.openness]).toEqual([10, 20, 30]);
    expect([...found.part]).toEqual([0, 1, 2]);
    expect([...found.corners]).toEqual([2, 1, 0]);
  });

  it('is drawn with fewer triangles while it moves, over the same vertices', () => {
    const positions = Float32Array.from([0, 0, 0, 0.1, 0, 0, 5, 0, 0, 0, 5, 0]);
    const corners = Uint32Array.from([0, 1, 2, 0, 2, 3, 1, 2, 3]);
    const few = coarseCorners(positions, corners, 1);
    expect([...few]).toEqual([0, 2, 3, 0, 2, 3]);
    expect(coarseCorners(positions, corners, 0.01)).toEqual(corners);
  });

  it('has points of the file in its own frame and back', () => {
    // y up to z up, twice the size, moved
    const frame = new Frame([
      [2, 0, 0, 1],
      [0, 0, -2, 3],
      [0, 2, 0, 5],
    ]);
    expect(frame.fromFile([1, 2, 3])).toEqual([3, -3, 9]);
    const back = frame.toFile([3, -3, 9]);
    [1, 2, 3].forEach((v, i) => expect(back[i]).toBeCloseTo(v));
  });
});
