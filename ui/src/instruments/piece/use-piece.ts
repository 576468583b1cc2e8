import { onScopeDispose, ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue';

import { api, sentence, take, takeBytes, type JobView, type Plan } from '@/api/client';

import { readGeometry, type PieceGeometry } from './geometry';

const POLL_MS = 200;

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
    const { mesh, up, show, turn_deg } = piece;
    const body = { mesh, up, show, turn_deg };
    for (;;) {
      const found = await take(api.POST('/api/pieces', { body }));
      if (mine !== turn) return;
      if (!found.job) {
        job.value = null;
        const bytes = await takeBytes(`/api/pieces/${found.key}/geometry`);
        if (mine !== turn) return;
        geometry.value = readGeometry(bytes);
        key.value = found.key;
        return;
      }
      job.value = found.job;
      if (!(await follow(found.job.id, mine))) return;
    }
  }

  /** True when the job is done and this is still the piece that is wanted. */
  async function follow(id: string, mine: number): Promise<boolean> {
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, POLL_MS));
      if (mine !== turn) return false;
      const view = await take(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } }));
      if (mine !== turn) return false;
      job.value = view;
      if (view.state === 'done') return true;
      if (view.state === 'failed' || view.state === 'cancelled') {
        job.value = null;
        problem.value = view.error ?? 'Stopped. The piece keeps its last state.';
        return false;
      }
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
    await take(api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.value.id } } }));
  }

  watch(
    () => {
      const p = plan()?.piece;
      return p ? `${p.mesh} ${p.up} ${p.show} ${p.turn_deg} ${again.value}` : null;
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
