import { beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, ref } from 'vue';

import { Refused, type JobView, type TurnedBody } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';
import { useJob } from '@/composables/use-job';
import { keyName } from '@/composables/use-keys';
import { useLatest } from '@/composables/use-latest';
import type { Axis } from '@/window/axes';
import { useSwatch } from '@/window/swatch';
import { useSetting, type Asked } from '@/window/use-setting';

import { Events, held, job, serve, type Answer } from './server';

beforeEach(() => Events.reset());

describe('the latest only', () => {
  it('skips what came between', async () => {
    const gate = held<void>();
    const done: number[] = [];
    const latest = useLatest<number>(
      async (n) => {
        if (n === 1) await gate.promise;
        done.push(n);
      },
      () => undefined,
    );
    [1, 2, 3, 4].forEach((n) => latest.push(n));
    gate.give();
    await vi.waitFor(() => expect(done).toEqual([1, 4]));
  });

  it('tells whether something newer is still to come', async () => {
    const gate = held<void>();
    const latest = useLatest<number>(
      () => gate.promise,
      () => undefined,
    );
    latest.push(1);
    expect(latest.waits()).toBe(false);
    latest.push(2);
    expect(latest.waits()).toBe(true);
    gate.give();
    await vi.waitFor(() => expect(latest.waits()).toBe(false));
  });

  it('tells a failure and goes on with the next', async () => {
    const said: unknown[] = [];
    const done: number[] = [];
    const latest = useLatest<number>(
      (n) => (n === 1 ? Promise.reject(new Error('no')) : Promise.resolve(void done.push(n))),
      (error) => said.push(error),
    );
    latest.push(1);
    await vi.waitFor(() => expect(said).toHaveLength(1));
    latest.push(2);
    await vi.waitFor(() => expect(done).toEqual([2]));
  });

  it('takes nothing up any more once it is stopped', async () => {
    const gate = held<void>();
    const done: number[] = [];
    const latest = useLatest<number>(
      async (n) => {
        await gate.promise;
        done.push(n);
      },
      () => undefined,
    );
    latest.push(1);
    latest.push(2);
    latest.stop();
    gate.give();
    await vi.waitFor(() => expect(done).toEqual([1]));
    latest.push(3);
    await Promise.resolve();
    expect(done).toEqual([1]);
  });
});

describe('the swatch', () => {
  it('comes as a draft along with a drag and sharp where the hand rests', async () => {
    const asked = serve(() => ({ body: {} }));
    const fine = () => asked.map((one) => (one.body as { sharp: number }).sharp);
    const scope = effectScope();
    const { swatch, show } = scope.run(() =>
      useSwatch(
        () => [],
        () => undefined,
      ),
    )!;
    const body = { task: 'light' } as TurnedBody;
    show({ body, since: 0, still: false });
    await vi.waitFor(() => expect(swatch.value).not.toBeNull());
    expect(fine()).toEqual([0.5]);
    await vi.waitFor(() => expect(fine()).toEqual([0.5, 1]));
    show({ body, since: 0, still: false });
    show({ body, since: 0, still: true });
    await vi.waitFor(() => expect(fine()).toEqual([0.5, 1, 0.5, 1]));
    await new Promise((rested) => setTimeout(rested, 300));
    expect(fine()).toHaveLength(4); // what was let go is sharp already
    scope.stop();
  });
});

describe('a setting', () => {
  it('is known of where the point stands when the window has come, window or not', async () => {
    const gate = held<Answer>();
    const at = ref(20);
    const asked = serve(({ path }) => (path === '/api/window' ? gate.promise : { body: {} }));
    const knownAt = () =>
      asked
        .filter((one) => one.path === '/api/known')
        .map((one) => (one.body as TurnedBody).setting.pressure_psi);
    const scope = effectScope();
    const axis = { knob: 'pressure_psi', low: 5, high: 40 } as Axis;
    scope.run(() =>
      useSetting(
        () =>
          ({
            paint: { id: 'slate' },
            airbrush: { id: 'all', needle_mm: 0.3 },
            setting: { pressure_psi: at.value },
          }) as Asked,
        () => ({ across: axis, up: axis }),
        () => 'light',
      ),
    );
    await vi.waitFor(() => expect(asked.some((one) => one.path === '/api/window')).toBe(true));
    expect(knownAt()).toEqual([]);
    at.value = 25;
    await vi.waitFor(() => expect(knownAt()).toEqual([25]));
    gate.give({ status: 500, body: { detail: 'no' } });
    await vi.waitFor(() => expect(knownAt()).toEqual([25, 25]));
    scope.stop();
  });
});

describe('a job', () => {
  const free = () => new AbortController().signal;

  it('is followed to its end with its progress, on one open request', async () => {
    const asked = serve(() => 'unreachable');
    const told: number[] = [];
    const done = followJob(job('running', 0.1), (v) => told.push(v.progress), free());
    Events.tell(job('running', 0.5), job('done', 1));
    expect(await done).toBe(true);
    expect(told).toEqual([0.1, 0.5, 1]);
    expect(asked).toEqual([]);
    expect(Events.opened).toEqual(['/api/jobs/j1/events']);
    expect(Events.open).toBe(0);
  });

  it('that has ended already opens nothing', async () => {
    expect(await followJob(job('done', 1), () => undefined, free())).toBe(true);
    expect(Events.opened).toEqual([]);
  });

  it('is a refusal with its sentence and code when it fails or is stopped', async () => {
    const follow = (v: JobView) => followJob(v, () => undefined, free());
    const failed = { ...job('failed', 0, 'The mesh has no faces.'), code: 'mesh' };
    await expect(follow(failed)).rejects.toMatchObject({
      message: 'The mesh has no faces.',
      code: 'mesh',
    });
    await expect(follow(job('cancelled'))).rejects.toThrow('Nothing was changed.');
  });

  it('is left alone when nobody waits for it any more', async () => {
    const turn = new AbortController();
    const told: number[] = [];
    const done = followJob(job('running', 0.2), (v) => told.push(v.progress), turn.signal);
    turn.abort();
    expect(await done).toBe(false);
    expect(Events.open).toBe(0);
    expect(told).toEqual([0.2]);
    expect(await followJob(job('running'), (v) => told.push(v.progress), turn.signal)).toBe(false);
    expect(told).toEqual([0.2]);
  });

  it('is asked for by name when its request breaks off', async () => {
    let answer: Answer = { body: job('running', 0.6) };
    const asked = serve(() => answer);
    const told: number[] = [];
    const done = followJob(job('running'), (v) => told.push(v.progress), free());
    Events.breakOff();
    await vi.waitFor(() => expect(told).toEqual([0, 0.6]));
    answer = { body: job('done', 1) };
    Events.breakOff();
    expect(await done).toBe(true);
    expect(asked.map((a) => a.path)).toEqual(['/api/jobs/j1', '/api/jobs/j1']);
  });

  it('that is not known any more is a refusal', async () => {
    serve(() => ({
      status: 404,
      body: { detail: 'This job is no longer known.', code: 'missing' },
    }));
    const done = followJob(job('running'), () => undefined, free());
    Events.breakOff();
    await expect(done).rejects.toMatchObject({ code: 'missing' });
    expect(Events.open).toBe(0);
  });

  it('can be stopped, and stopping one that is gone is no trouble', async () => {
    const asked = serve(() => 'unreachable');
    stopJob('j1');
    await vi.waitFor(() =>
      expect(asked).toMatchObject([{ method: 'DELETE', path: '/api/jobs/j1' }]),
    );
  });

  it('gives its result, and shows none while it runs', async () => {
    const scope = effectScope();
    const { run, job: shown, problem } = scope.run(() => useJob<string>())!;
    const found = run(
      () => Promise.resolve(job('running', 0.3)),
      (id) => Promise.resolve(`result of ${id}`),
    );
    await vi.waitFor(() => expect(shown.value?.progress).toBe(0.3));
    Events.tell(job('done', 1));
    expect(await found).toBe('result of j1');
    expect([shown.value, problem.value]).toEqual([null, '']);
    scope.stop();
  });

  it('that was started anew drops the answer of the one before', async () => {
    const scope = effectScope();
    const { run, problem } = scope.run(() => useJob<string>())!;
    const slow = held<JobView>();
    const first = run(
      () => slow.promise,
      () => Promise.resolve('first'),
    );
    const second = await run(
      () => Promise.resolve(job('done', 1)),
      () => Promise.resolve('second'),
    );
    slow.give(job('failed', 0, 'too late'));
    expect(await first).toBeNull();
    expect([second, problem.value]).toEqual(['second', '']);
    scope.stop();
  });

  it('is stopped when its screen goes away', async () => {
    const asked = serve(() => ({ body: {} }));
    const scope = effectScope();
    const { run, job: shown } = scope.run(() => useJob<string>())!;
    const found = run(
      () => Promise.resolve(job('running')),
      () => Promise.resolve('too late'),
    );
    await vi.waitFor(() => expect(shown.value).not.toBeNull());
    scope.stop();
    expect(await found).toBeNull();
    expect(asked).toMatchObject([{ method: 'DELETE', path: '/api/jobs/j1' }]);
  });

  it('tells why it failed, but not that the painter stopped it', async () => {
    const scope = effectScope();
    const { run, problem } = scope.run(() => useJob<string>())!;
    const give = (v: JobView) =>
      run(
        () => Promise.resolve(v),
        () => Promise.resolve(''),
      );
    await give(job('failed', 0, 'No paint comes near.'));
    expect(problem.value).toBe('No paint comes near.');
    await give(job('cancelled'));
    expect(problem.value).toBe('');
    await run(
      () => Promise.reject(new Refused('Not now.', 422, 'refused')),
      () => Promise.resolve(''),
    );
    expect(problem.value).toBe('Not now.');
    scope.stop();
  });
});

describe('keys', () => {
  const name = (key: string, held: KeyboardEventInit = {}) =>
    keyName(new KeyboardEvent('keydown', { key, ...held }));

  it('are named the same on every keyboard', () => {
    expect(name('z', { ctrlKey: true })).toBe('Ctrl+Z');
    expect(name('z', { metaKey: true })).toBe('Ctrl+Z');
    expect(name('Z', { ctrlKey: true, shiftKey: true })).toBe('Ctrl+Shift+Z');
    expect(name('V')).toBe('v');
    expect(name('[')).toBe('[');
    expect(name('?', { shiftKey: true })).toBe('?');
    expect(name('ArrowLeft', { shiftKey: true })).toBe('Shift+ArrowLeft');
  });
});
