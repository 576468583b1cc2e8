<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { api, sentence, take, takePicture, type LightsOut, type Plan } from '@/api/client';
import PictureCard from '@/displays/PictureCard.vue';
import ShareBars from '@/displays/ShareBars.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

/** Three light plans side by side on this piece. */
const props = defineProps<{ presets: { id: string; name: string; words: string }[] }>();
const open = defineModel<boolean>({ required: true });
const store = usePlan();

interface Column {
  preset: string;
  picture: Blob | null;
  found: LightsOut | null;
  problem: string;
}
const columns = ref<Column[]>(
  ['as_planned', 'shoulder', 'stage'].map((preset) => ({
    preset,
    picture: null,
    found: null,
    problem: '',
  })),
);
const choices = computed(() => [
  { id: 'as_planned', label: 'As planned now' },
  ...props.presets.map((p) => ({ id: p.id, label: p.name, more: p.words })),
]);
const COMPARED = 'compared';
let turn = 0;

async function fill(column: Column, plan: Plan, mine: number): Promise<void> {
  column.problem = '';
  const body = { plan, preset: column.preset };
  try {
    const [found, picture] = await Promise.all([
      take(api.POST('/api/light/preset', { body })),
      takePicture('/api/light/picture', body),
    ]);
    if (mine !== turn) return;
    column.found = found;
    column.picture = picture;
  } catch (error) {
    if (mine === turn) column.problem = sentence(error);
  }
}

watch(open, async (now) => {
  const plan = store.plan;
  if (!now || !plan) return;
  const mine = ++turn;
  for (const column of columns.value) await fill(column, plan, mine);
});
function choose(column: Column, preset: string): void {
  column.preset = preset;
  if (store.plan) void fill(column, store.plan, turn);
}
async function use(column: Column): Promise<void> {
  const found = column.found;
  if (!found) return;
  const name = props.presets.find((p) => p.id === column.preset)?.name ?? COMPARED;
  await store.change(`Light plan: ${name}`, (plan) => {
    plan.lights = found.lights;
    plan.schools = found.schools;
  });
  open.value = false;
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="Three light plans side by side"
    width="960px"
    top="3vh"
    append-to-body
  >
    <div class="columns">
      <section v-for="(c, i) in columns" :key="i" :aria-label="`Light plan ${i + 1}`">
        <ChoiceField
          :label="`Light plan ${i + 1}`"
          hide-label
          :model-value="c.preset"
          :choices="choices"
          @update:model-value="choose(c, $event)"
        />
        <PictureCard
          :picture="c.picture"
          alt="The target light on the piece"
          :waiting="c.problem || undefined"
        />
        <template v-if="c.found">
          <p class="small">Front</p>
          <ShareBars :shares="c.found.study.show" narrow />
          <p class="small">All round</p>
          <ShareBars :shares="c.found.study.around" narrow />
        </template>
        <ElButton :disabled="!c.found || c.preset === 'as_planned'" @click="use(c)">
          Use this light
        </ElButton>
      </section>
    </div>
    <p class="small">Glows of the plan stay as they are; their light is left out of the presets.</p>
  </ElDialog>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 18px;
  margin-bottom: 12px;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
</style>
