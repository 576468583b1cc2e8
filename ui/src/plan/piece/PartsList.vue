<script setup lang="ts">
import { ElButton, ElCheckbox, ElTable, ElTableColumn } from 'element-plus';
import { computed, onBeforeUnmount, ref, watch } from 'vue';

import { api, sentence, take, type PartAdvice, type Part, type PartView } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, share } from '@/displays/format';
import NameField from '@/fields/NameField.vue';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

const store = usePlan();
/** What was worked out may lag behind the plan: names and states are the plan's own. */
const parts = computed<(Pick<PartView, 'part'> & Partial<PartView>)[]>(() => {
  const worked = store.workings?.parts ?? [];
  const own = store.plan?.piece.parts ?? [];
  if (!own.length) return worked;
  return own.map((part) => ({ ...worked.find((v) => v.part.id === part.id), part }) as PartView);
});
const chosen = ref<string[]>([]);
const level = ref(50);
const problem = ref('');
const advice = ref<PartAdvice[] | null>(null);
const { job, problem: adviceProblem, run } = useJob<{ advice: PartAdvice[] }>();

const STATES: { id: NonNullable<Part['state']>; label: string; more: string }[] = [
  { id: 'attached', label: 'attached', more: 'glued on: blocks light and spray' },
  { id: 'tacked', label: 'loosely attached', more: 'throws its shadow, lifted off for spraying' },
  { id: 'held_off', label: 'off', more: 'painted on its own' },
];
type Row = Pick<PartView, 'part'>;
function standOut(id: string): void {
  const at = parts.value.findIndex((v) => v.part.id === id);
  store.shownPart = parts.value.length > 1 ? at : null;
}
function pick(id: string): void {
  chosen.value = chosen.value.includes(id)
    ? chosen.value.filter((c) => c !== id)
    : [...chosen.value, id];
}

/** What the advice depends on; it is asked for anew when that changes. */
const situation = computed(() => {
  const p = store.plan?.piece;
  const w = store.workings;
  return p && w ? JSON.stringify([w.piece, p.height_mm, p.blocked]) : '';
});
watch(
  situation,
  async (now) => {
    const plan = store.plan;
    if (!now || !plan) return;
    advice.value = null;
    const found = await run(
      () => take(api.POST('/api/parts/advice', { body: { plan } })),
      (id) => take(api.GET('/api/parts/advice/{job_id}', { params: { path: { job_id: id } } })),
    );
    if (found && situation.value === now) advice.value = found.advice;
  },
  { immediate: true },
);
onBeforeUnmount(() => (store.shownPart = null));

/** The parts as they stand become the plan's own as soon as one of them is changed. */
function all(): Part[] {
  return parts.value.map((v) => v.part);
}
function save(reason: string, next: Part[]): Promise<void> {
  return store.change(reason, (plan) => (plan.piece.parts = next));
}
function setState(id: string, state: Part['state']): void {
  const words = STATES.find((s) => s.id === state)!.label;
  const name = all().find((p) => p.id === id)?.name;
  void save(
    `${name} ${words}`,
    all().map((p) => (p.id === id ? { ...p, state } : p)),
  );
}
function rename(id: string, name: string): void {
  const old = all().find((p) => p.id === id)?.name ?? '';
  void save(
    `${old} renamed`,
    all().map((p) => (p.id === id ? { ...p, name } : p)),
  );
}
const canMerge = computed(() => {
  const picked = all().filter((p) => chosen.value.includes(p.id));
  return picked.length > 1 && picked.every((p) => !p.cuts?.length);
});
function merge(): void {
  const picked = all().filter((p) => chosen.value.includes(p.id));
  const [first] = picked;
  if (!first) return;
  const joined = { ...first, bodies: picked.flatMap((p) => p.bodies) };
  void save(
    `${picked.map((p) => p.name).join(', ')} merged`,
    all().flatMap((p) => (p.id === first.id ? [joined] : chosen.value.includes(p.id) ? [] : [p])),
  );
  chosen.value = [];
}
const only = computed(() => (chosen.value.length === 1 ? chosen.value[0]! : null));
const bodies = computed(() => all().find((p) => p.id === only.value)?.bodies.length ?? 0);
async function split(way: 'bodies' | 'level'): Promise<void> {
  const plan = store.plan;
  const name = all().find((p) => p.id === only.value)?.name;
  if (!plan || !only.value) return;
  problem.value = '';
  try {
    const found = await take(
      api.POST('/api/parts/split', {
        body: { plan, part: only.value, way, at: level.value / 100 },
      }),
    );
    // what is chosen while the save is on its way stays chosen
    chosen.value = [];
    await save(`${name} split`, found.parts);
  } catch (error) {
    problem.value = sentence(error);
  }
}
function asTheyFall(): void {
  void save('Split by bodies', []);
  chosen.value = [];
}
</script>

<template>
  <section aria-label="Parts" data-test="parts">
    <h3>Parts</h3>
    <ElTable
      :data="parts"
      row-key="part.id"
      aria-label="Parts"
      @cell-mouse-enter="(v: Row) => standOut(v.part.id)"
      @cell-mouse-leave="store.shownPart = null"
    >
      <ElTableColumn width="32">
        <template #header><span class="visually-hidden">choose</span></template>
        <template #default="{ row }">
          <ElCheckbox
            :model-value="chosen.includes(row.part.id)"
            :aria-label="`Choose ${row.part.name}`"
            @update:model-value="pick(row.part.id)"
          />
        </template>
      </ElTableColumn>
      <ElTableColumn label="part" min-width="110">
        <template #default="{ row }">
          <NameField
            :model-value="row.part.name"
            :label="`Name of ${row.part.name}`"
            @update:model-value="rename(row.part.id, $event)"
            @focus="standOut(row.part.id)"
            @blur="store.shownPart = null"
          />
        </template>
      </ElTableColumn>
      <ElTableColumn label="cm²" align="right" width="54">
        <template #default="{ row }">
          {{ row.area_cm2 === undefined ? '…' : decimals(row.area_cm2, 1) }}
        </template>
      </ElTableColumn>
      <ElTableColumn label="reach" align="right" width="60">
        <template #default="{ row }">
          {{ row.reachable_share === undefined ? '…' : share(row.reachable_share) }}
        </template>
      </ElTableColumn>
      <ElTableColumn label="attached" width="118">
        <template #default="{ row }">
          <ChoiceField
            :label="`${row.part.name}: attached or off`"
            hide-label
            :model-value="row.part.state"
            :choices="STATES"
            @update:model-value="setState(row.part.id, $event)"
          />
        </template>
      </ElTableColumn>
    </ElTable>
    <div v-if="chosen.length" class="tools">
      <ElButton v-if="canMerge" @click="merge"> Merge {{ chosen.length }} </ElButton>
      <template v-if="only">
        <ElButton v-if="bodies > 1" @click="split('bodies')">
          Split into its {{ bodies }} bodies
        </ElButton>
        <span class="level">
          <NumberField v-model="level" label="Level cut at" unit="% of height" :min="1" :max="99" />
          <ElButton @click="split('level')">Cut</ElButton>
        </span>
      </template>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <ElButton v-if="store.plan?.piece.parts?.length" text size="small" @click="asTheyFall">
      Split by bodies
    </ElButton>
    <div v-if="parts.length > 1" class="advice">
      <p v-if="job" class="small" role="status">{{ job.doing }} …</p>
      <p v-else-if="adviceProblem" class="note" role="alert">{{ adviceProblem }}</p>
      <template v-else-if="advice">
        <p v-if="!advice.length" class="small">
          Leaving any attached part off would gain next to nothing.
        </p>
        <ul v-else>
          <li v-for="a in advice.slice(0, 3)" :key="a.part">
            <span>{{ a.words }}</span>
            <ElButton @click="setState(a.part, 'held_off')"> Hold off </ElButton>
          </li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  justify-items: stretch;
  gap: 8px;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.level {
  display: flex;
  gap: 6px;
  align-items: end;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 4px;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}
li .el-button {
  flex: none;
}
</style>
