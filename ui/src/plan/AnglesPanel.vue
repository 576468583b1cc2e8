<script setup lang="ts">
import { ElButton, ElPopover } from 'element-plus';
import { computed, ref } from 'vue';

import { api, take, type AnglesOut } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, share } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

/** Finds stations for the light: all light coats of the plan together, or one coat alone. */
const props = defineProps<{ coat: string | null }>();
const store = usePlan();
const { job, problem, run, stop } = useJob<AnglesOut>();
const stations = ref(3);
const goal = ref('light');
const found = ref<AnglesOut | null>(null);
const foundFor = ref('');

const GOALS = [
  { id: 'light', label: 'paints the light' },
  { id: '0.66', label: 'covers most' },
  { id: '0.5', label: 'covers a half' },
  { id: '0.333', label: 'covers a third' },
  { id: '0.2', label: 'covers a fifth' },
  { id: '0.05', label: 'covers a touch' },
];
const WAYS = [
  { id: 'together' as const, label: 'with all light coats' },
  { id: 'alone' as const, label: 'alone' },
];
const SIDES = [1, 2, 3, 4].map((n) => ({ id: n, label: String(n) }));
const names = computed(
  () => new Map((store.plan?.coats ?? []).map((c) => [c.id, c.name] as const)),
);
const off = computed(() => store.workings?.off_plan ?? null);
const way = ref<'together' | 'alone'>('together');
const together = computed(() => !props.coat || off.value?.coats.includes(props.coat));
const one = computed(() =>
  way.value === 'alone' || goal.value !== 'light' || !together.value ? props.coat : null,
);
/** How it will be done, in a few words. */
const how = computed(() => {
  if (goal.value !== 'light') return GOALS.find((g) => g.id === goal.value)!.label;
  const sides = stations.value === 1 ? 'one side' : `${stations.value} sides`;
  return one.value ? `alone, ${sides}` : `to ${sides}`;
});
const nothing = computed(() => !one.value && !off.value);

async function workOut(): Promise<void> {
  const plan = store.plan;
  if (!plan || nothing.value) return;
  const before = JSON.stringify(plan);
  const body = {
    plan,
    coats: one.value ? [one.value] : [],
    stations: stations.value,
    cover_share: goal.value === 'light' ? null : Number(goal.value),
  };
  const out = await run(
    () => take(api.POST('/api/angles', { body })),
    (id) => take(api.GET('/api/angles/{job_id}', { params: { path: { job_id: id } } })),
  );
  if (!out) return;
  if (JSON.stringify(store.plan) !== before) {
    problem.value = 'The plan was changed meanwhile; nothing was replaced. Work it out again.';
    return;
  }
  const which = out.coats.map((c) => names.value.get(c.coat)).join(', ');
  await store.change(`Angles of ${which} worked out`, (draft) => {
    for (const one of out.coats) {
      const coat = draft.coats?.find((c) => c.id === one.coat);
      if (coat?.kind === 'spray') coat.stations = one.stations;
    }
  });
  store.stationId = null;
  found.value = out;
  foundFor.value = JSON.stringify(store.sprayed.map((c) => c.stations));
}
const current = computed(
  () => foundFor.value === JSON.stringify(store.sprayed.map((c) => c.stations)),
);
defineExpose({ workOut });
</script>

<template>
  <section aria-label="Work out the angles" data-test="angles">
    <div class="ask">
      <ElButton type="primary" :disabled="!!job || nothing" data-test="work-out" @click="workOut">
        Work out the angles
      </ElButton>
      <ElPopover trigger="click" width="260" :persistent="false">
        <template #reference>
          <ElButton text data-test="how">{{ how }}</ElButton>
        </template>
        <div class="choices">
          <ChoiceField v-if="coat" v-model="goal" label="What this coat does" :choices="GOALS" />
          <ChoiceField
            v-if="coat && goal === 'light' && together"
            v-model="way"
            label="Worked out"
            :choices="WAYS"
          />
          <ChoiceField
            v-if="goal === 'light'"
            v-model="stations"
            label="Sides, at most"
            :choices="SIDES"
          />
        </div>
      </ElPopover>
    </div>
    <p v-if="nothing" class="small">The plan has no light coat yet; add one under Coats.</p>
    <div v-if="job" class="working" role="status">
      <span class="small">{{ job.doing }}</span>
      <WorkBar :share="job.progress" :doing="job.doing" />
      <ElButton @click="stop">Stop</ElButton>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <div v-if="found && current" class="found" data-test="angles-found">
      <p v-if="found.after">{{ found.words }}</p>
      <p v-for="c in found.coats" :key="c.coat">
        <b>{{ names.get(c.coat) }}</b> {{ c.words }}
      </p>
      <ElButton :disabled="!store.canUndo" @click="store.undo()"> Undo </ElButton>
    </div>
    <p v-if="off" class="small" data-test="off-plan">
      {{ off.words }}: {{ share(off.too_dark) }} too dark, {{ share(off.too_light) }} too light. The
      light runs from L* {{ decimals(off.dark_end, 0) }} to {{ decimals(off.light_end, 0) }} at the
      end. {{ off.reasons.join(' ') }}
      <ElButton link @click="store.look = 'off_plan'">Show where</ElButton>
    </p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.ask {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px;
}
.choices {
  display: grid;
  gap: 10px;
}
.working {
  display: grid;
  gap: 4px;
}
.found {
  display: grid;
  gap: 6px;
  padding: 8px 12px;
  background: var(--well);
  font-size: var(--f14);
}
.found .el-button {
  justify-self: start;
}
</style>
