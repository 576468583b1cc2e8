import { describe, expect, it } from 'vitest';

import { useMarks } from '@/cards/use-marks';
import { PAPER_LIGHTNESS, POINTS, RING } from '@/craft.generated';

const around = (marking: ReturnType<typeof useMarks>, count: number): void => {
  for (let n = 0; n < count; n += 1) marking.markPhoto(n / 100, 0.5);
};

describe('marks on a photo of a piece', () => {
  it('are a ring first, and the paper', () => {
    const marking = useMarks();
    around(marking, RING.least - 1);
    expect(marking.todo.value).toContain('1 more');
    expect(marking.nextOnPlan.value).toBe('');
    around(marking, 1);
    expect(marking.body.value).toBeNull();
    marking.patching.value = true;
    marking.markPhoto(0.9, 0.1);
    expect(marking.patching.value).toBe(false);
    expect(marking.body.value).toMatchObject({
      points: [],
      patch: { x: 0.9, y: 0.1 },
      lightness: PAPER_LIGHTNESS,
      side: { azimuth_deg: 20, elevation_deg: 12 },
    });
    expect(marking.body.value?.ring).toHaveLength(RING.least);
    around(marking, RING.most);
    expect(marking.nextOnPhoto.value).toBe('');
  });

  it('are points where that is chosen, on the plan first, and each goes back', () => {
    const marking = useMarks();
    marking.way.value = 'points';
    marking.markPhoto(0.1, 0.1);
    expect(marking.pairs.value).toHaveLength(0);
    marking.markPlan(0.2, 0.3);
    expect(marking.nextOnPhoto.value).toBe('point 1');
    expect(marking.planMarks.value).toHaveLength(1);
    marking.back();
    expect(marking.canGoBack.value).toBe(false);
    for (let n = 0; n < POINTS.least; n += 1) {
      marking.markPlan(n / 10, 0.5);
      marking.markPhoto(n / 10, 0.6);
    }
    marking.patch.value = { x: 0, y: 0 };
    expect(marking.todo.value).toContain(`${POINTS.checked} points are surer`);
    expect(marking.body.value?.ring).toEqual([]);
    marking.azimuth.value = 90;
    expect(marking.planMarks.value).toHaveLength(0);
    expect(marking.photoMarks.value).toHaveLength(POINTS.least + 1);
  });

  it('are shown again as they were kept, and the way they were made', () => {
    const marking = useMarks();
    const patch = { x: 0.1, y: 0.2 };
    const side = { azimuth_deg: 140, elevation_deg: 5 };
    const ring = [{ x: 0.1, y: 0.1 }];
    marking.show({ points: [], ring, side, patch, lightness: 50 });
    expect(marking.way.value).toBe('outline');
    expect(marking.azimuth.value).toBe(140);
    expect(marking.counted.value).toBe('1 place around it');
    const plan = { x: 0.5, y: 0.5, azimuth_deg: 70, elevation_deg: 3 };
    marking.show({ points: [{ plan, photo: patch }], ring: [], side, patch, lightness: 50 });
    expect(marking.way.value).toBe('points');
    expect(marking.azimuth.value).toBe(70);
    marking.show(null);
    expect(marking.counted.value).toBe('0 points');
    expect(marking.lightness.value).toBe(PAPER_LIGHTNESS);
  });
});
