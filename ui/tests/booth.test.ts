import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, type EffectScope } from 'vue';

import type { BoothEvent, BoothStep } from '@/api/client';
import { asideOf, kept } from '@/booth/kept-events';
import { useBooth, type UseBooth } from '@/booth/use-booth';

import { job, serve, type Answer, type Asked } from './server';

const DAY = 'day-12345';
function step(id: string): BoothStep {
  return {
    id,
    entry: id.split(':')[0],
    kind: 'hold',
    count: 2,
    which: [1],
    after: null,
  } as BoothStep;
}
const STEPS = [step('day-0:open'), step('plan.coat.0.1:check')];

let scope: EffectScope;
let stored: BoothEvent[];
/** What the server makes of each event that is sent: a status, 200 to store it. */
let judged: (event: BoothEvent) => number;
/** The day as it was planned; null while nobody has. */
let laid: object | null;
let asked: Asked[];

function keeper(): void {
  stored = [];
  judged = () => 200;
  laid = {};
  asked = serve((asked): Answer => {
    if (asked.path.endsWith('/day'))
      return { body: { id: DAY, version: laid ? 1 : 0, laid, doc: {} } };
    if (asked.method === 'PUT') return { body: {} };
    if (asked.path.endsWith('/lay')) {
      laid = {};
      return { body: job('done', 1) };
    }
    if (asked.path.endsWith('/booth'))
      return {
        body: {
          day: DAY,
          name: 'Wardens',
          start: '2026-11-28T14:00',
          steps: STEPS,
          events: [],
          missed: [],
        },
      };
    const events = (asked.body as { events: BoothEvent[] }).events;
    const worst = Math.max(200, ...events.map(judged));
    if (worst > 200)
      return {
        status: worst,
        body: { detail: 'Not this one.', code: worst < 500 ? 'unknown_step' : 'internal' },
      };
    stored.push(...events);
    return { body: { events: stored.map((e, n) => ({ ...e, seq: n + 1 })) } };
  });
}

async function opened(): Promise<UseBooth> {
  scope = effectScope();
  const booth = scope.run(() => useBooth(() => 'plan'))!;
  await vi.waitFor(() => expect(booth.view.value).not.toBeNull());
  return booth;
}

beforeEach(() => {
  localStorage.clear();
  keeper();
});
afterEach(() => {
  scope.stop();
  vi.unstubAllGlobals();
  localStorage.clear();
});

describe('a press at the booth', () => {
  it('counts and is sent when the browser has no room for it, and that is said', async () => {
    const booth = await opened();
    const real = localStorage;
    const full = new Proxy(real, {
      get: (of, name) => {
        if (name === 'setItem')
          return () => {
            throw new DOMException('full', 'QuotaExceededError');
          };
        const found = Reflect.get(of, name) as unknown;
        return typeof found === 'function' ? (found.bind(of) as unknown) : found;
      },
    });
    vi.stubGlobal('localStorage', full);
    booth.next();
    expect(booth.count.value).toBe(1);
    expect(booth.inMemoryOnly.value).toBe(true);
    await vi.waitFor(() => expect(stored).toHaveLength(1));
    await vi.waitFor(() => expect(booth.unsent.value).toBe(0));
  });

  it('that the server will never take is set aside and said, and the others go on', async () => {
    const booth = await opened();
    judged = (event) => (event.kind === 'problem' ? 422 : 200);
    booth.next();
    booth.press('problem', { symptom: 'specks' });
    booth.next();
    await vi.waitFor(() => expect(booth.refused.value).toHaveLength(1));
    await vi.waitFor(() => expect(booth.unsent.value).toBe(0));
    expect(stored.map((e) => e.kind)).toEqual(['done', 'done']);
    expect(booth.refused.value[0]!.why).toBe('Not this one.');
    expect(kept(DAY)).toEqual([]);
    expect(booth.unsentWhy.value).toBe('');
    // it is still said after a reload, until it is dismissed
    expect(asideOf(DAY)).toHaveLength(1);
    booth.dismissRefused();
    expect(asideOf(DAY)).toEqual([]);
  });

  it('no longer counts here when it was refused', async () => {
    const booth = await opened();
    judged = () => 404;
    booth.next();
    expect(booth.count.value).toBe(1);
    await vi.waitFor(() => expect(booth.refused.value).toHaveLength(1));
    expect(booth.count.value).toBe(0);
  });

  it('the server fails on is kept and tried again, and keeps no other waiting', async () => {
    const booth = await opened();
    judged = (event) => (event.kind === 'problem' ? 500 : 200);
    booth.press('problem', { symptom: 'specks' });
    booth.next();
    await vi.waitFor(() => expect(stored.map((e) => e.kind)).toEqual(['done']));
    expect(booth.refused.value).toEqual([]);
    expect(kept(DAY).map((e) => e.kind)).toEqual(['problem']);
    judged = () => 200;
    await vi.waitFor(() => expect(stored.map((e) => e.kind)).toContain('problem'), 5000);
  });

  it('is kept when the tablet is no longer let in, and the reason is said', async () => {
    const booth = await opened();
    serve((): Answer => ({ status: 401, body: { detail: 'Not paired.', code: 'not_paired' } }));
    booth.next();
    await vi.waitFor(() => expect(booth.unsentWhy.value).toBe('Not paired.'));
    expect(booth.refused.value).toEqual([]);
    expect(kept(DAY)).toHaveLength(1);
  });
});

describe('a booth of a day that nobody has planned', () => {
  it('plans it and goes on', async () => {
    laid = null;
    const booth = await opened();
    expect(booth.problem.value).toBe('');
    expect(asked.map((a) => `${a.method} ${a.path.split('/').at(-1)}`)).toEqual(
      expect.arrayContaining([`PUT ${DAY}`, 'POST lay', 'GET booth']),
    );
    expect(booth.laying.value).toBeNull();
  });

  it('does not plan a planned one again', async () => {
    await opened();
    expect(asked.some((a) => a.path.endsWith('/lay'))).toBe(false);
  });
});

describe('what the browser keeps', () => {
  it('is let go when it cannot be read, and stops nothing', async () => {
    localStorage.setItem(`haze-booth:${DAY}:broken-1`, '{"id": ');
    localStorage.setItem(`haze-booth:${DAY}:broken-2`, 'null');
    localStorage.setItem('haze-booth-view:plan', '[1');
    const booth = await opened();
    expect(booth.unsent.value).toBe(0);
    booth.next();
    await vi.waitFor(() => expect(stored).toHaveLength(1));
  });
});
