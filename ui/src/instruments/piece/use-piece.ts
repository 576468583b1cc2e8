import { onScopeDispose, ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue';

import { api, sentence, take, takeBytes, type JobView, type Plan } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';

import { readGeometry, type PieceGeometry } from './geometry';

/** Share of the work after which the surface is prepared. */
const PREPARED = 0.3;

export interface UsePiece {
  key: Readonly<Ref<string | null>>;
  geometry: Readonly<ShallowRef<PieceGeometry | null>>;
  job: Readonly<Ref<JobView | null>>;
  problem: Readonly<Ref<string>>;
  cancel: () => void;
  retry: () => void;
}

/** The prepared piece of a plan: asks for it, follows its job, fetches its geometry. */
export function usePiece(plan: () => Plan | null): UsePiece {
  const key = ref<string | null>(null);
  const geometry = shallowRef<PieceGeometry | null>(null);
  const job = ref<JobView | null>(null);
  const problem = ref('');
  const again = ref(0);
  let turn = new AbortController();

  async function showPlain(of: string, signal: AbortSignal): Promise<void> {
    try {
      const bytes = await takeBytes(`/api/pieces/${of}/geometry`);
      if (!signal.aborted && geometry.value === null) geometry.value = readGeometry(bytes);
    } catch {
      // it is shown once it is ready
    }
  }

  async function prepare(signal: AbortSignal): Promise<void> {
    const piece = plan()?.piece;
    if (!piece) return;
    for (;;) {
      const found = await take(api.POST('/api/pieces', { body: { piece } }));
      if (signal.aborted) return;
      if (!found.job) {
        job.value = null;
        const bytes = await takeBytes(`/api/pieces/${found.key}/geometry`);
        if (signal.aborted) return;
        geometry.value = readGeometry(bytes);
        key.value = found.key;
        return;
      }
      let plain = false;
      const done = await followJob(
        found.job,
        (view) => {
          job.value = view;
          // its surface stands there before what it sees is known
          if (!plain && view.progress >= PREPARED) {
            plain = true;
            void showPlain(found.key, signal);
          }
        },
        signal,
      );
      if (!done) return;
    }
  }

  function start(): void {
    turn.abort();
    const { signal } = (turn = new AbortController());
    problem.value = '';
    key.value = null;
    prepare(signal).catch((error: unknown) => {
      if (signal.aborted) return;
      job.value = null;
      problem.value = sentence(error);
    });
  }

  function cancel(): void {
    if (job.value) stopJob(job.value.id);
  }

  watch(
    () => {
      const p = plan()?.piece;
      if (!p) return null;
      const parts = p.parts.map((part) => [part.bodies, part.cuts, part.state]);
      const stands = JSON.stringify([p.mesh, p.up, p.show, p.turn_deg]);
      return [stands, JSON.stringify([parts, again.value])] as const;
    },
    (now, before) => {
      if (!now) return;
      // another surface: what is drawn is no longer it
      if (now[0] !== before?.[0]) geometry.value = null;
      if (now[0] !== before?.[0] || now[1] !== before[1]) start();
    },
    { immediate: true },
  );
  onScopeDispose(() => turn.abort());

  return { key, geometry, job, problem, cancel, retry: () => (again.value += 1) };
}
