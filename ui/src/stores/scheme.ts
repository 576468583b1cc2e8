import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

import { api, sentence, take, type JobView, type Plan, type StartedOut } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';
import { asking, litBy, type Answers } from '@/plan/scheme/answers';

import { usePlan } from './plan';

/** The scheme of a new plan: worked out beside the open screens, put on the plan when it is there. */
export const useScheme = defineStore('scheme', () => {
  /** The plan it is for; empty when none is worked out and none went wrong. */
  const of = ref('');
  const job = shallowRef<JobView | null>(null);
  const problem = ref('');
  let turn = new AbortController();

  /** Work out the coats of a bare plan and put them on it. */
  async function begin(id: string, plan: Plan, answers: Answers): Promise<void> {
    turn.abort();
    turn = new AbortController();
    const { signal } = turn;
    of.value = id;
    job.value = null;
    problem.value = '';
    try {
      const lit = await litBy(plan, answers.light);
      if (signal.aborted) return;
      const started = await take(api.POST('/api/start', { body: asking(lit, answers) }));
      if (!(await followJob(started, (view) => (job.value = view), signal))) {
        return void stopJob(started.id);
      }
      const path = { job_id: started.id };
      await use(id, await take(api.GET('/api/start/{job_id}', { params: { path } })));
      if (!signal.aborted) dismiss();
    } catch (error) {
      if (!signal.aborted) problem.value = sentence(error);
    } finally {
      if (!signal.aborted) job.value = null;
    }
  }
  /** Put what was found on the plan, unless somebody gave it steps meanwhile. */
  async function use(id: string, { plan: found }: StartedOut): Promise<void> {
    const { coats, asked, lights } = found;
    const open = usePlan();
    if (open.id === id && open.plan) {
      if (open.plan.coats.length) return;
      await open.replace('Scheme', { ...open.plan, coats, asked, lights });
      open.selectCoat(coats.length);
      return;
    }
    const path = { plan_id: id };
    const { version, plan } = await take(api.GET('/api/plans/{plan_id}', { params: { path } }));
    if (plan.coats.length) return;
    const body = { version, what: 'Scheme', plan: { ...plan, coats, asked, lights } };
    await take(api.PUT('/api/plans/{plan_id}', { params: { path }, body }));
  }
  function stop(): void {
    turn.abort();
    dismiss();
  }
  function dismiss(): void {
    of.value = '';
    problem.value = '';
  }

  return { of, job, problem, begin, stop, dismiss };
});
