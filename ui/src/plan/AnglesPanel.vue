<script setup lang="ts">
import { ElProgress } from 'element-plus';
import { computed, ref } from 'vue';

import { api, take, type AnglesOut } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, share } from '@/displays/format';
import { usePlan } from '@/stores/plan';

/** Finds stations for the light: all light coats of the plan together, or one coat alone. */
const props = defineProps<{ coat: string | null }>();
const store = usePlan();
const { job, problem, run, stop } = useJob<AnglesOut>();
const stations = ref(3);
const goal = ref('light');
const found = ref<AnglesOut | null>(null);
const foundFor = ref('');

const SHARES = [
  { id: '0.66', label: 'most' },
  { id: '0.5', label: 'a half' },
  { id: '0.333', label: 'a third' },
  { id: '0.2', label: 'a fifth' },
  { id: '0.05', label: 'a touch' },
];
const names = computed(
  () => new Map((store.plan?.coats ?? []).map((c) => [c.id, c.name] as const)),
);
const off = computed(() => store.workings?.off_plan ?? null);
const alone = ref(false);
const together = computed(() => !props.coat || off.value?.coats.includes(props.coat));
const one = computed(() =>
  alone.value || goal.value !== 'light' || !together.value ? props.coat : null,
);
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
      <label v-if="coat">
        <span class="small">What this coat does</span>
        <select v-model="goal">
          <option value="light">paints the light</option>
          <option v-for="s in SHARES" :key="s.id" :value="s.id">covers {{ s.label }}</option>
        </select>
      </label>
      <label v-if="coat && goal === 'light' && together">
        <span class="small">Worked out</span>
        <select v-model="alone">
          <option :value="false">with all light coats</option>
          <option :value="true">alone</option>
        </select>
      </label>
      <label v-if="goal === 'light'">
        <span class="small">Sides, at most</span>
        <select v-model.number="stations">
          <option v-for="n in [1, 2, 3, 4]" :key="n" :value="n">{{ n }}</option>
        </select>
      </label>
      <button
        class="quiet-button strong"
        type="button"
        :disabled="!!job || nothing"
        data-test="work-out"
        @click="workOut"
      >
        Work out the angles
      </button>
    </div>
    <p v-if="nothing" class="small">The plan has no light coat yet; add one under Coats.</p>
    <div v-if="job" class="working" role="status">
      <span class="small">{{ job.doing }}</span>
      <ElProgress :percentage="Math.round(job.progress * 100)" :stroke-width="8" />
      <button class="quiet-button" type="button" @click="stop">Stop</button>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <div v-if="found && current" class="found" data-test="angles-found">
      <p v-if="found.after">{{ found.words }}</p>
      <p v-for="c in found.coats" :key="c.coat">
        <b>{{ names.get(c.coat) }}</b> {{ c.words }}
      </p>
      <button class="quiet-button" type="button" :disabled="!store.canUndo" @click="store.undo()">
        Undo
      </button>
    </div>
    <p v-if="off" class="small" data-test="off-plan">
      {{ off.words }}: {{ share(off.too_dark) }} too dark, {{ share(off.too_light) }} too light. The
      light runs from L* {{ decimals(off.dark_end, 0) }} to {{ decimals(off.light_end, 0) }} at the
      end. {{ off.reasons.join(' ') }}
      <button class="plain link" type="button" @click="store.look = 'off_plan'">Show where</button>
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
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 8px;
  align-items: end;
}
label {
  display: grid;
  gap: 2px;
}
.working {
  display: grid;
  gap: 4px;
}
.found {
  display: grid;
  gap: 6px;
  padding: 8px 12px;
  background: var(--surface-2);
  font-size: var(--f14);
}
.ask .strong {
  grid-column: 1 / -1;
}
.found .quiet-button {
  justify-self: start;
}
.link {
  text-decoration: underline;
}
</style>
