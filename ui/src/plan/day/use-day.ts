import { computed, ref, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { cloneDeep, isEqual } from 'lodash-es';

import {
  api,
  Refused,
  sentence,
  take,
  type DayDoc,
  type DayView,
  type JobView,
} from '@/api/client';
import { useJob } from '@/composables/use-job';
import { dateFromNow } from '@/displays/format';

export interface UseDay {
  day: Readonly<Ref<DayView | null>>;
  job: Readonly<Ref<JobView | null>>;
  problem: Ref<string>;
  canTakeBack: ComputedRef<boolean>;
  lay: (near?: boolean) => Promise<void>;
  enough: () => void;
  /** Ask for something else, and lay the day again, near the order it had. */
  change: (edit: (doc: DayDoc) => void, near?: boolean) => Promise<void>;
  takeBack: () => Promise<void>;
  /** This day is over: another of the same plans begins. */
  another: () => Promise<void>;
  /** Whether what is asked is still on its way, or being laid. */
  busy: ComputedRef<boolean>;
}

/** The day a plan is in: asked, laid, and laid again after every change. */
export function useDay(plan: () => string | null): UseDay {
  const day = shallowRef<DayView | null>(null);
  const trouble = ref('');
  const past = shallowRef<DayDoc[]>([]);
  const work = useJob<DayView>();
  /** Changes that are on their way or being laid. */
  const asking = ref(0);

  async function load(id: string): Promise<void> {
    day.value = null;
    past.value = [];
    trouble.value = '';
    try {
      const found = await take(
        api.GET('/api/plans/{plan_id}/day', {
          params: { path: { plan_id: id }, query: { today: dateFromNow() } },
        }),
      );
      if (plan() !== id) return;
      day.value = found;
      if (!found.laid && (await stored(found.doc))) await lay();
    } catch (error) {
      trouble.value = sentence(error);
    }
  }

  /** Store what is asked; a day that was changed elsewhere is loaded anew. */
  async function stored(doc: DayDoc): Promise<boolean> {
    const now = day.value;
    if (!now) return false;
    try {
      day.value = await take(
        api.PUT('/api/days/{day_id}', {
          params: { path: { day_id: now.id } },
          body: { version: now.version, doc },
        }),
      );
      trouble.value = '';
      return true;
    } catch (error) {
      trouble.value = sentence(error);
      if (error instanceof Refused && error.code === 'stale') {
        day.value = await take(
          api.GET('/api/days/{day_id}', { params: { path: { day_id: now.id } } }),
        ).catch(() => now);
      }
      return false;
    }
  }

  async function lay(near = false): Promise<void> {
    const now = day.value;
    if (!now) return;
    const found = await work.run(
      () =>
        take(
          api.POST('/api/days/{day_id}/lay', {
            params: { path: { day_id: now.id } },
            body: { near },
          }),
        ),
      (id) => take(api.GET('/api/days/laid/{job_id}', { params: { path: { job_id: id } } })),
    );
    if (found && found.id === day.value?.id) day.value = found;
  }

  async function during(change: () => Promise<void>): Promise<void> {
    asking.value += 1;
    try {
      await change();
    } finally {
      asking.value -= 1;
    }
  }

  async function change(edit: (doc: DayDoc) => void, near = false): Promise<void> {
    const before = day.value?.doc;
    if (!before) return;
    const doc = cloneDeep(before);
    edit(doc);
    if (isEqual(doc, before)) return;
    await during(async () => {
      if (!(await stored(doc))) return;
      past.value = [...past.value, before];
      await lay(near);
    });
  }

  async function takeBack(): Promise<void> {
    const before = past.value.at(-1);
    if (!before) return;
    await during(async () => {
      if (!(await stored(before))) return;
      past.value = past.value.slice(0, -1);
      await lay(true);
    });
  }

  async function another(): Promise<void> {
    const now = day.value;
    if (!now) return;
    try {
      day.value = await take(
        api.POST('/api/days/{day_id}/another', {
          params: { path: { day_id: now.id } },
          body: { today: dateFromNow() },
        }),
      );
      past.value = [];
      await lay();
    } catch (error) {
      trouble.value = sentence(error);
    }
  }

  watch(
    plan,
    (id) => {
      if (id) void load(id);
    },
    { immediate: true },
  );
  const problem = computed({
    get: () => trouble.value || work.problem.value,
    set: (words: string) => {
      trouble.value = words;
      work.problem.value = words;
    },
  });
  return {
    day,
    job: work.job,
    problem,
    canTakeBack: computed(() => past.value.length > 0),
    lay,
    enough: work.stop,
    change,
    takeBack,
    another,
    busy: computed(() => asking.value > 0 || work.job.value !== null),
  };
}
