import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope } from 'vue';

import { Refused, type JobView } from '@/api/client';
import { cancelJob, followJob } from '@/composables/follow-job';
import { useJob } from '@/composables/use-job';
import { keyName } from '@/composables/use-keys';
import { useLater } from '@/composables/use-later';
import { useLatest } from '@/composables/use-latest';
import { usePlan } from '@/stores/plan';

import { coat, hand, held, job, plan, serve, view } from './server';

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

describe('a job', () => {
  const running = (states: JobView[]) =>
    serve(({ method }) => (method === 'DELETE' ? { body: {} } : { body: states.shift()! }));

  it('is followed to its end with its progress', async () => {
    const asked = running([job('running', 0.5), job('done', 1)]);
    const told: number[] = [];
    const done = await followJob(
      job('running', 0.1),
      (v) => told.push(v.progress),
      () => true,
    );
    expect(done).toBe(true);
    expect(told).toEqual([0.1, 0.5, 1]);
    expect(asked.map((a) => a.path)).toEqual(['/api/jobs/j1', '/api/jobs/j1']);
  });

  it('is a refusal with its sentence when it fails or is stopped', async () => {
    const follow = (v: JobView) =>
      followJob(
        v,
        () => undefined,
        () => true,
      );
    await expect(follow(job('failed', 0, 'The mesh has no faces.'))).rejects.toThrow(
      'The mesh has no faces.',
    );
    await expect(follow(job('cancelled'))).rejects.toThrow('Nothing was changed.');
  });

  it('is left alone when nobody waits for it any more', async () => {
    const asked = running([]);
    const done = await followJob(
      job('running'),
      () => undefined,
      () => false,
    );
    expect(done).toBe(false);
    expect(asked).toHaveLength(0);
  });

  it('can be stopped', async () => {
    const asked = running([]);
    await cancelJob('j1');
    expect(asked).toMatchObject([{ method: 'DELETE', path: '/api/jobs/j1' }]);
  });

  it('gives its result, and shows none while it runs', async () => {
    running([job('done', 1)]);
    const scope = effectScope();
    const { run, job: shown, problem } = scope.run(() => useJob<string>())!;
    const found = await run(
      () => Promise.resolve(job('running')),
      (id) => Promise.resolve(`result of ${id}`),
    );
    expect([found, shown.value, problem.value]).toEqual(['result of j1', null, '']);
    scope.stop();
  });

  it('that was started anew drops the answer of the one before', async () => {
    running([]);
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

  it('tells why it failed, but not that the painter stopped it', async () => {
    running([]);
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

describe('what comes later', () => {
  beforeEach(() => setActivePinia(createPinia()));

  async function opened(...steps: Parameters<typeof plan>) {
    serve(() => ({ body: view(plan(...steps)) }));
    const store = usePlan();
    await store.open('one');
    return store;
  }

  it('is every film one sees through, above the selected step', async () => {
    const store = await opened(
      coat('a', 'Bilge Black', 'prime'),
      coat('b', 'Wrack Green', 'cover'),
      coat('c', 'Dawn Rose', 'tint'),
      { ...coat('d', 'Lamp Amber', 'veil'), off: true },
      hand('e', 'wash'),
      hand('f', 'rest', false),
      coat('g', 'Quay Matt', 'matt'),
    );
    store.selectCoat(2);
    const { films, groundBelow } = useLater();
    expect(films.value).toHaveLength(3);
    expect(films.value[0]).toEqual({
      masstone: '#4b5a35',
      opacity: 'opaque',
      finish: 'satin',
      dry_film_um: 0,
    });
    store.selectCoat(6);
    expect(films.value).toHaveLength(1);
    expect(groundBelow(0)).toBe('#8d8e8c');
    expect(groundBelow(2)).toBe('#4b5a35');
  });

  it('lies over the bare surface where no step leaves paint', async () => {
    await opened(hand('a', 'mask_on', false), { ...coat('b', 'Slate'), off: true });
    expect(useLater().groundBelow(2)).toBe('#8d8e8c');
  });
});
