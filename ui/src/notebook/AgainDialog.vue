<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type AgainOut,
  type Difference,
  type PlanSummary,
} from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, hoursWords, needleBeside } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import NameField from '@/fields/NameField.vue';
import NumberField from '@/fields/NumberField.vue';
import RoomFields from '@/fields/RoomFields.vue';
import { useDevices } from '@/stores/devices';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';
import { knobValue } from '@/window/knobs';

/** Do it again: on what, with what, where; then all that differs, and why, before it is kept. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ session?: string; plan?: string; name: string; copies: number }>();
const router = useRouter();
const shelf = useShelf();
const devices = useDevices();
const settings = useSettings();
const { job, problem, run, stop } = useJob<AgainOut>();
const trouble = ref('');

const SAME = 'same';
const named = ref('');
const count = ref(1);
const piece = ref(SAME);
const airbrush = ref(SAME);
const otherRoom = ref(false);
const room = ref({ temperature_c: 20, humidity_pct: 50 });
const plans = shallowRef<PlanSummary[]>([]);
const out = shallowRef<AgainOut | null>(null);

watch(
  open,
  async (now) => {
    if (!now) {
      stop();
      return;
    }
    named.value = `${props.name}, again`.slice(0, 120);
    count.value = props.copies || 1;
    piece.value = airbrush.value = SAME;
    out.value = null;
    trouble.value = '';
    const measured = devices.now?.room;
    otherRoom.value = !!measured;
    if (measured) room.value = { ...measured };
    void shelf.load();
    plans.value = (await take(api.GET('/api/plans')).catch(() => null))?.plans ?? [];
  },
  { immediate: true },
);
const pieces = computed(() => [
  { id: SAME, label: 'the same piece' },
  ...plans.value.map((p) => ({ id: p.id, label: p.piece, more: `of ${p.name}` })),
]);
const airbrushes = computed(() => [
  { id: SAME, label: 'the same airbrush' },
  ...(shelf.shelf?.airbrushes ?? []).map((a) => ({
    id: a.id,
    label: a.name,
    more: needleBeside(a.name, a.needle_mm),
  })),
]);
// what was worked out is for what was asked then
watch([named, count, piece, airbrush, otherRoom, room], () => (out.value = null), { deep: true });

async function workOut(): Promise<void> {
  const body = {
    session: props.session ?? null,
    plan: props.plan ?? null,
    name: named.value,
    copies: count.value,
    piece_of: piece.value === SAME ? null : piece.value,
    airbrush: airbrush.value === SAME ? null : airbrush.value,
    room: otherRoom.value ? room.value : null,
  };
  out.value = await run(
    () => take(api.POST('/api/again', { body })),
    (id) => take(api.GET('/api/again/{job_id}', { params: { path: { job_id: id } } })),
  );
}
async function keep(): Promise<void> {
  if (!out.value) return;
  trouble.value = '';
  try {
    const body = { plan: out.value.plan, what: 'Done again' };
    const made = await take(api.POST('/api/again/keep', { body }));
    open.value = false;
    await router.push({ name: 'plan', params: { id: made.id, step: 'coats' } });
  } catch (error) {
    trouble.value = sentence(error);
  }
}

/** Differences under the step they are of; those of the whole plan first. */
const grouped = computed(() => {
  const found = new Map<string, Difference[]>();
  for (const d of out.value?.differences ?? []) {
    if (d.path === 'name') continue;
    found.set(d.where, [...(found.get(d.where) ?? []), d]);
  }
  return [...found];
});
const unit = computed(() => settings.values.pressure_unit ?? 'psi');
function told(d: Difference, which: 'before' | 'after'): string {
  const value = which === 'before' ? d.before_value : d.after_value;
  if (d.knob && value !== null && value !== undefined) return knobValue(d.knob, value, unit.value);
  return d[which] || 'none';
}
const figures = computed(() => {
  const o = out.value;
  if (!o) return [];
  return [
    { word: 'hands', before: hoursWords(o.before.hands_min), after: hoursWords(o.after.hands_min) },
    { word: 'waits', before: hoursWords(o.before.waits_min), after: hoursWords(o.after.waits_min) },
    { word: 'rounds, all sides', before: String(o.before.rounds), after: String(o.after.rounds) },
    {
      word: 'paint',
      before: `${decimals(o.before.paint_ml, 1)} ml`,
      after: `${decimals(o.after.paint_ml, 1)} ml`,
    },
  ];
});
</script>

<template>
  <ElDialog v-model="open" title="Repeat" width="min(760px, 94vw)" top="5vh" append-to-body>
    <div class="asked">
      <NameField v-model="named" label="Name" class="wide" />
      <ChoiceField v-model="piece" label="On" :choices="pieces" data-test="again-piece" />
      <NumberField v-model="count" label="Copies" :min="1" :max="500" data-test="again-copies" />
      <ChoiceField
        v-model="airbrush"
        label="With"
        :choices="airbrushes"
        data-test="again-airbrush"
      />
      <ElCheckbox v-model="otherRoom" data-test="again-room">In another room</ElCheckbox>
      <RoomFields
        v-if="otherRoom"
        class="wide"
        :room="room"
        @change="(c) => (room = { ...room, ...c })"
      />
    </div>
    <p v-if="problem || trouble" class="note stop" role="alert">{{ problem || trouble }}</p>
    <div v-if="job" class="busy">
      <WorkBar :share="job.progress" :doing="job.doing" />
      <span class="small">{{ job.doing }}</span>
      <ElButton size="small" @click="stop">Stop</ElButton>
    </div>
    <div v-if="out" class="found" data-test="differences">
      <ElTable :data="figures" size="small" data-test="sums">
        <ElTableColumn prop="word" label="In all" />
        <ElTableColumn prop="before" label="then" />
        <ElTableColumn prop="after" label="now" />
      </ElTable>
      <p v-for="words in out.problems" :key="words" class="note stop">{{ words }}</p>
      <p v-if="!grouped.length" class="note">Nothing differs: it is done as it was.</p>
      <section v-for="[where, members] in grouped" :key="where">
        <h3>{{ where || 'The whole plan' }}</h3>
        <ul>
          <li v-for="d in members" :key="d.path">
            <span>{{ d.what }}</span>
            <span class="number"
              >{{ told(d, 'before') }} → <b>{{ told(d, 'after') }}</b></span
            >
            <small>{{ d.why }}</small>
          </li>
        </ul>
      </section>
    </div>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton v-if="!out" type="primary" :loading="!!job" data-test="work-out" @click="workOut"
        >Work out what differs</ElButton
      >
      <ElButton v-else type="primary" data-test="keep-again" @click="keep">Make this plan</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px 16px;
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
.busy {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) auto auto;
  gap: 12px;
  align-items: center;
  margin-top: 14px;
}
.found {
  display: grid;
  gap: 12px;
  max-height: calc(90vh - 400px);
  min-height: 160px;
  margin-top: 14px;
  overflow-y: auto;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--hair);
  overflow-wrap: anywhere;
}
@media (max-width: 640px) {
  .asked,
  li {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
