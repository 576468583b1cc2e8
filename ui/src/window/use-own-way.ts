import { ref, watch, type Ref } from 'vue';

import { api, take, type SprayAt } from '@/api/client';

import type { Asked } from './use-setting';

type Task = NonNullable<Asked['task']>;

export interface OwnWay {
  /** The painter's own setting for this paint in this airbrush; null when there is none. */
  way: Ref<SprayAt | null>;
  differs: (spray: SprayAt) => boolean;
  /** Keep a setting as one's own way, or let go of it. */
  keep: (spray: SprayAt | null) => Promise<void>;
}

/** The painter's own setting for a paint in an airbrush and a task. */
export function useOwnWay(asked: () => Asked | null, task: () => Task): OwnWay {
  const way = ref<SprayAt | null>(null);
  function whose() {
    const now = asked();
    if (!now) return null;
    const { id, needle_mm } = now.airbrush;
    return { paint: now.paint.id, airbrush: id, needle_mm, task: task() };
  }
  watch(
    () => JSON.stringify(whose()),
    async () => {
      way.value = null;
      const body = whose();
      if (!body) return;
      const before = JSON.stringify(body);
      const found = await take(api.POST('/api/way', { body })).catch(() => null);
      if (found && before === JSON.stringify(whose())) way.value = found.spray ?? null;
    },
    { immediate: true },
  );
  return {
    way,
    differs: (spray) => JSON.stringify(way.value) !== JSON.stringify(spray),
    keep: async (spray) => {
      const body = whose();
      if (!body) return;
      const kept = await take(api.PUT('/api/way', { body: { ...body, spray } }));
      way.value = kept.spray ?? null;
    },
  };
}
