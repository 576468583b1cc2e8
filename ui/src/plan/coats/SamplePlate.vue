<script setup lang="ts">
import { ElButton } from 'element-plus';
import { watch } from 'vue';

import { api, take, type Plan } from '@/api/client';
import { useLatest } from '@/composables/use-latest';
import CoreSample from '@/instruments/film/CoreSample.vue';
import { usePlan } from '@/stores/plan';

/** Core samples that are pinned: each place is looked at again when the plan changes. */
const emit = defineEmits<{ mix: [colour: string] }>();
const store = usePlan();

interface Wanted {
  plan: Plan;
  places: [number, number, number][];
}
const latest = useLatest<Wanted>(
  async ({ plan, places }) => {
    const found = await Promise.all(
      places.map((at) => take(api.POST('/api/sample', { body: { plan, at } }))),
    );
    if (JSON.stringify(places) !== JSON.stringify(store.samples.map((s) => s.at))) return;
    store.samples = places.map((at, i) => ({ at, found: found[i]! }));
  },
  () => undefined,
);
watch(
  () => [store.workings, store.samples.map((s) => s.at).join(' ')] as const,
  () => {
    if (store.plan && store.samples.length && store.workings)
      latest.push({ plan: store.plan, places: store.samples.map((s) => s.at) });
  },
  { immediate: true },
);
function drop(index: number): void {
  store.samples = store.samples.filter((_, i) => i !== index);
}
</script>

<template>
  <div class="plate" role="region" aria-label="Core samples" data-test="samples">
    <section v-for="(s, i) in store.samples" :key="s.at.join()">
      <CoreSample v-if="s.found" :sample="s.found" :title="`Sample ${i + 1}`" />
      <p v-else class="small">Taking the sample …</p>
      <div class="do">
        <ElButton v-if="s.found?.layers.length" @click="emit('mix', s.found.layers.at(-1)!.colour)">
          Mix this colour
        </ElButton>
        <ElButton @click="drop(i)">Take away</ElButton>
      </div>
    </section>
  </div>
</template>

<style scoped>
.plate {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
  max-height: 46vh;
  padding: 12px 16px;
  overflow: auto;
  background: var(--sheet);
  color: var(--ink);
  border-top: 1px solid var(--hair);
}
section {
  display: grid;
  gap: 6px;
  align-content: start;
}
.do {
  display: flex;
  gap: 6px;
}
</style>
