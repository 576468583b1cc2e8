<script setup lang="ts">
import { ElDialog, ElSegmented } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, sentence, take, type Plan } from '@/api/client';
import { when } from '@/displays/format';
import ChoiceField, { type Choice } from '@/fields/ChoiceField.vue';
import { TURN_KEYS, type View } from '@/instruments/piece/view';
import { turned } from '@/instruments/piece/viewpoint';
import { usePlan } from '@/stores/plan';

import PiecePane from './PiecePane.vue';

/** Two plans, or two versions of one, finished, turned together. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ from: View }>();
const store = usePlan();
const view = shallowRef<View | null>(null);
const problem = ref('');
const look = ref('as_painted');
const LOOKS = [
  { value: 'as_painted', label: 'as painted' },
  { value: 'value', label: 'value' },
];

interface Side {
  chosen: string;
  plan: Plan | null;
}
const NOW = 'now';
const choices = ref<Choice<string>[]>([]);
const sides = ref<[Side, Side]>([
  { chosen: NOW, plan: null },
  { chosen: NOW, plan: null },
]);

async function list(): Promise<void> {
  const mine = 'This plan';
  const found: Choice<string>[] = [{ id: NOW, label: 'This plan, as it is now', group: mine }];
  if (store.id) {
    const path = { params: { path: { plan_id: store.id } } };
    const { versions } = await take(api.GET('/api/plans/{plan_id}/versions', path));
    // the newest is this plan as it is now, unless something of it was undone
    for (const v of versions.slice(store.canRedo ? 0 : 1)) {
      const label = `After “${v.what}”`;
      found.push({ id: `version/${v.number}`, label, more: when(v.at), group: mine });
    }
  }
  const { plans } = await take(api.GET('/api/plans'));
  for (const p of plans) {
    if (p.id !== store.id) found.push({ id: `plan/${p.id}`, label: p.name, group: 'Other plans' });
  }
  choices.value = found;
}

async function planOf(chosen: string): Promise<Plan | null> {
  const [what, which] = chosen.split('/');
  if (what === 'version') {
    const path = { plan_id: store.id!, number: Number(which) };
    return take(api.GET('/api/plans/{plan_id}/versions/{number}', { params: { path } }));
  }
  if (what === 'plan') {
    const path = { plan_id: which! };
    return (await take(api.GET('/api/plans/{plan_id}', { params: { path } }))).plan;
  }
  return store.plan;
}

async function choose(side: Side, chosen: string): Promise<void> {
  side.chosen = chosen;
  problem.value = '';
  try {
    const plan = await planOf(chosen);
    if (side.chosen === chosen) side.plan = plan;
  } catch (error) {
    problem.value = sentence(error);
  }
}

watch(
  open,
  async (now) => {
    if (!now) return;
    view.value = { ...props.from, zoom: 1, pan: [0, 0] };
    problem.value = '';
    try {
      await list();
      const other = choices.value[1]?.id ?? NOW;
      await Promise.all([choose(sides.value[0], other), choose(sides.value[1], NOW)]);
    } catch (error) {
      problem.value = sentence(error);
    }
  },
  { immediate: true },
);
const named = computed(() =>
  sides.value.map((s) => choices.value.find((c) => c.id === s.chosen)?.label ?? ''),
);
function turn(event: KeyboardEvent): void {
  const by = TURN_KEYS[event.key];
  if (!by || !view.value || !(event.target instanceof HTMLCanvasElement)) return;
  event.preventDefault();
  view.value = turned(view.value, ...by);
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="Side by side"
    width="min(1240px, 96vw)"
    top="3vh"
    append-to-body
    destroy-on-close
  >
    <div class="head">
      <p class="small">Two plans, or two versions of one. Turn one and both turn.</p>
      <ElSegmented v-model="look" :options="LOOKS" aria-label="How both are shown" />
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <div class="two" @keydown="turn">
      <section v-for="(side, i) in sides" :key="i" class="side">
        <ChoiceField
          :model-value="side.chosen"
          :label="i ? 'Right' : 'Left'"
          :choices="choices"
          typed
          :data-test="i ? 'right-plan' : 'left-plan'"
          @update:model-value="(chosen: string) => choose(side, chosen)"
        />
        <PiecePane
          v-if="side.plan"
          v-model:view="view"
          :plan="side.plan"
          :look="look"
          :label="`${named[i]}. Drag or use the arrow keys to turn both.`"
        />
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  margin-bottom: 10px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  height: 66vh;
}
.side {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-width: 0;
  min-height: 0;
}
</style>
