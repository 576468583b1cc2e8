import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

import { api, sentence, take, type JobView, type Plan } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';
import { asking, litBy, type Answers } from '@/plan/scheme/answers';

import { usePlan } from './plan';

/** The scheme of a new plan: worked out beside the open screens, put on the plan when it is there. */
export const useScheme = defineStore('scheme', () => {
  /** The plan it is for; empty when none is worked out and none went wrong. */
  const of = ref('');
  const job = shallowRef<JobView | null>(null);
  const problem = ref('');
  /** What Haze did on its own, and what the shelf lacks; shown until it is closed. */
  const notes = ref<string[]>([]);
  let turn = new AbortController();

  /** Work out the coats of a bare plan and put them on it. */
  async function begin(id: string, plan: Plan, answers: Answers): Promise<void> {
    turn.abort();
    turn = new AbortController();
    const { signal } = turn;
    of.value = id;
    job.value = null;
    problem.value = '';
    notes.value = [];
    try {
      const lit = await litBy(plan, answers.light);
      if (signal.aborted) return;
      const started = await take(api.POST('/api/start', { body: asking(lit, answers) }));
      if (!(await followJob(started, (view) => (job.value = view), signal))) {
        return void stopJob(started.id);
      }
      const path = { job_id: started.id };
      const found = await take(api.GET('/api/start/{job_id}', { params: { path } }));
      await use(id, found.plan);
      if (signal.aborted) return;
      notes.value = found.notes;
      if (!notes.value.length) dismiss();
    } catch (error) {
      if (!signal.aborted) problem.value = sentence(error);
    } finally {
      if (!signal.aborted) job.value = null;
    }
  }
  /** Put what was found on the plan, unless somebody gave it steps meanwhile. */
  async function use(id: string, found: Plan): Promise<void> {
    const { coats, asked, lights, silenced } = found;
    const laid = { coats, asked, lights, silenced };
    const open = usePlan();
    if (open.id === id && open.plan) {
      if (open.plan.coats.length) return;
      await open.replace('Scheme', { ...open.plan, ...laid });
      open.selectCoat(coats.length);
      return;
    }
    const path = { plan_id: id };
    const { version, plan } = await take(api.GET('/api/plans/{plan_id}', { params: { path } }));
    if (plan.coats.length) return;
    const body = { version, what: 'Scheme', plan: { ...plan, ...laid } };
    await take(api.PUT('/api/plans/{plan_id}', { params: { path }, body }));
  }
  function stop(): void {
    turn.abort();
    dismiss();
  }
  function dismiss(): void {
    of.value = '';
    problem.value = '';
    notes.value = [];
  }

  return { of, job, problem, notes, begin, stop, dismiss };
});
