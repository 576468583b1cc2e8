<script setup lang="ts">
import { ElButton, ElCheckbox, ElRadioButton, ElRadioGroup } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

import { api, sentence, take } from '@/api/client';
import ChoiceField from '@/fields/ChoiceField.vue';
import ColourField from '@/fields/ColourField.vue';
import { useShelf } from '@/stores/shelf';

import { AS_PLANNED, WHATS, type Answers } from './answers';
import { PLACES_ALONG, WAYS } from './gradient';

/** What it is, what light, what colours, and what goes on top when it is wanted. */
const props = defineProps<{ modelValue: Answers; onPlan?: boolean; whatKnown?: boolean }>();
const emit = defineEmits<{ 'update:modelValue': [answers: Answers] }>();
const MOST = 3;
const OFFERED = 24;
const shelf = useShelf();
const presets = ref<{ id: string; name: string; words: string }[]>([]);
/** Whether there is nothing on the shelf to work a scheme out from. */
const bare = ref(false);
const problem = ref('');
async function addExample(): Promise<void> {
  try {
    await take(api.POST('/api/shelf/example'));
    await shelf.reload();
    bare.value = false;
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(async () => {
  shelf.load().then(
    () => (bare.value = !shelf.shelf.paints.length),
    () => undefined,
  );
  const found = await take(api.GET('/api/light/presets')).catch(() => null);
  presets.value = found?.presets ?? [];
});
const lights = computed(() => [
  ...(props.onPlan ? [{ id: AS_PLANNED, label: 'As planned under Light' }] : []),
  ...presets.value.map((p) => ({ id: p.id, label: p.name, more: p.words })),
]);
const said = computed(() => props.modelValue);
const labels = computed(() => {
  if (!said.value.gradient) return ['Colour', 'Shade', 'Accent'];
  const [start, middle, end] = PLACES_ALONG[said.value.along];
  return said.value.colours.length === 2 ? [start, end] : [start, middle, end];
});
const least = computed(() => (said.value.gradient ? 2 : 1));
const more = computed(() => {
  if (said.value.gradient) return 'Add one between';
  return said.value.colours.length === 1 ? 'Add a shade' : 'Add an accent';
});
/** Colours of the shelf, offered where a colour is picked. */
const owned = computed(() => [
  ...new Set(shelf.shelf.paints.filter((p) => p.opacity === 'opaque').map((p) => p.masstone)),
]);
const worn = computed(() =>
  said.value.what === 'vehicle' ? 'Chips and streaks' : 'Dry-brushed edges',
);

function say(part: Partial<Answers>): void {
  emit('update:modelValue', { ...said.value, ...part });
}
function mean(gradient: boolean): void {
  const { colours } = said.value;
  const enough = gradient && colours.length < 2 ? [...colours, '#e0a818'] : colours;
  say({ gradient, colours: enough });
}
function addColour(): void {
  const [first, ...rest] = said.value.colours;
  if (said.value.gradient) say({ colours: [first!, '#a8622a', ...rest] });
  else say({ colours: [first!, ...rest, rest.length ? '#e6d7ae' : '#33506e'] });
}
function dropColour(): void {
  const { colours, gradient } = said.value;
  say({ colours: gradient ? [colours[0]!, colours.at(-1)!] : colours.slice(0, -1) });
}
function recolour(at: number, value: string): void {
  say({ colours: said.value.colours.map((old, i) => (i === at ? value : old)) });
}
</script>

<template>
  <div class="answers">
    <ChoiceField
      v-if="!whatKnown"
      label="What is it?"
      :model-value="said.what"
      :choices="WHATS"
      @update:model-value="(what) => say({ what })"
    />
    <ChoiceField
      label="Light"
      :model-value="said.light"
      :choices="lights"
      @update:model-value="(light) => say({ light })"
    />
    <div class="meant">
      <ElRadioGroup
        :model-value="said.gradient ? 'gradient' : 'one'"
        aria-label="What the colours are"
        @update:model-value="(v) => mean(v === 'gradient')"
      >
        <ElRadioButton value="one">One colour</ElRadioButton>
        <ElRadioButton value="gradient">A gradient</ElRadioButton>
      </ElRadioGroup>
      <ChoiceField
        v-if="said.gradient"
        label="What the gradient follows"
        hide-label
        :model-value="said.along"
        :choices="WAYS"
        @update:model-value="(along) => say({ along })"
      />
    </div>
    <p v-if="bare" class="note bare" role="status" data-test="bare-shelf">
      {{ problem || 'Your shelf has no paints yet, and coats are worked out from them.' }}
      <RouterLink to="/shelf">Add your own</RouterLink> or
      <ElButton text data-test="example" @click="addExample">Start with an example shelf</ElButton>
    </p>
    <div class="colours">
      <ColourField
        v-for="(c, i) in said.colours"
        :key="i"
        :label="labels[i]!"
        :model-value="c"
        :offered="owned.slice(0, OFFERED)"
        @update:model-value="(v) => recolour(i, v)"
      />
    </div>
    <div class="buttons">
      <ElButton text :disabled="said.colours.length >= MOST" @click="addColour">{{
        more
      }}</ElButton>
      <ElButton v-if="said.colours.length > least" text @click="dropColour">Remove</ElButton>
      <ElCheckbox
        :model-value="said.wash"
        label="Wash in the recesses"
        data-test="wash"
        @update:model-value="(v) => say({ wash: v === true })"
      />
      <ElCheckbox
        :model-value="said.worn"
        :label="worn"
        data-test="worn"
        @update:model-value="(v) => say({ worn: v === true })"
      />
    </div>
  </div>
</template>

<style scoped>
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 10px 14px;
  align-items: end;
}
.meant {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.meant :deep(.choice) {
  flex: 1 1 190px;
}
.bare,
.meant,
.colours,
.buttons {
  grid-column: 1 / -1;
}
.colours {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 8px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
}
.buttons .el-button {
  margin: 0;
}
</style>
