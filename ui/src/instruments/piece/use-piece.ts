import { onScopeDispose, ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue';

import { api, sentence, take, takeBytes, type JobView, type Plan } from '@/api/client';

import { cancelJob, followJob } from '@/composables/follow-job';

import { readGeometry, type PieceGeometry } from './geometry';

export interface UsePiece {
  key: Readonly<Ref<string | null>>;
  geometry: Readonly<ShallowRef<PieceGeometry | null>>;
  job: Readonly<Ref<JobView | null>>;
  problem: Readonly<Ref<string>>;
  cancel: () => Promise<void>;
  retry: () => void;
}

/** The prepared piece of a plan: asks for it, follows its job, fetches its geometry. */
export function usePiece(plan: () => Plan | null): UsePiece {
  const key = ref<string | null>(null);
  const geometry = shallowRef<PieceGeometry | null>(null);
  const job = ref<JobView | null>(null);
  const problem = ref('');
  const again = ref(0);
  let turn = 0;

  async function prepare(mine: number): Promise<void> {
    const piece = plan()?.piece;
    if (!piece) return;
    const wanted = JSON.parse(JSON.stringify(piece)) as Plan['piece'];
    for (;;) {
      const found = await take(api.POST('/api/pieces', { body: { piece: wanted } }));
      if (mine !== turn) return;
      if (!found.job) {
        job.value = null;
        const bytes = await takeBytes(`/api/pieces/${found.key}/geometry`);
        if (mine !== turn) return;
        geometry.value = readGeometry(bytes);
        key.value = found.key;
        return;
      }
      const done = await followJob(
        found.job,
        (view) => (job.value = view),
        () => mine === turn,
      );
      if (!done) return;
    }
  }

  function start(): void {
    const mine = ++turn;
    problem.value = '';
    prepare(mine).catch((error: unknown) => {
      if (mine !== turn) return;
      job.value = null;
      problem.value = sentence(error);
    });
  }

  async function cancel(): Promise<void> {
    if (!job.value) return;
    await cancelJob(job.value.id);
  }

  watch(
    () => {
      const p = plan()?.piece;
      if (!p) return null;
      const parts = p.parts.map((part) => [part.bodies, part.cuts, part.state]);
      return JSON.stringify([p.mesh, p.up, p.show, p.turn_deg, parts, again.value]);
    },
    (now) => {
      if (now) start();
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    turn += 1;
  });

  return { key, geometry, job, problem, cancel, retry: () => (again.value += 1) };
}
