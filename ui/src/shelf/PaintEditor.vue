<script setup lang="ts">
import { ElButton, ElCheckbox, ElDrawer, ElRadioButton, ElRadioGroup } from 'element-plus';
import { cloneDeep, pick } from 'lodash-es';
import { computed, ref, useId, watch } from 'vue';

import { api, sentence, take, type Chip, type NamedPaint, type PaintOnShelf } from '@/api/client';
import { FINISHES, OPACITIES, PAINT_KINDS, PASS_UM } from '@/craft.generated';
import { decimals } from '@/displays/format';
import { useLatest } from '@/composables/use-latest';
import ColourField from '@/fields/ColourField.vue';
import NumberField from '@/fields/NumberField.vue';
import PhotoPick from '@/colour/PhotoPick.vue';

import StrengthTest from './StrengthTest.vue';
import { freshId, useUsual } from './blank-paint';
import ChoiceField from '@/fields/ChoiceField.vue';
import TextField from '@/fields/TextField.vue';
import { asChoices } from '@/fields/choices';

/** One paint: what it is called, what it is, and the colour it has over dark, mid and light. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ paint: PaintOnShelf }>();
const emit = defineEmits<{ saved: []; another: []; away: [id: string] }>();

const SWATCH_PASSES = 4;
const filmAs = ref<'passes' | 'um'>('passes');
const draft = ref<PaintOnShelf>({ ...props.paint });
const chip = ref<Chip | null>(null);
const problem = ref('');
const busy = ref(false);
const formId = useId();
const ready = computed(
  () =>
    !busy.value &&
    !asking.value &&
    draft.value.name.trim() !== '' &&
    (coloured.value || swatched.value),
);
const isNew = computed(() => props.paint.name === '');
const usual = useUsual();
const nameField = ref<InstanceType<typeof TextField>>();
const saved = ref('');
/** Whether the colour of a new paint is known: set, or guessed from a word of its name. */
const coloured = ref(false);
/** Whether the newest name was not looked at yet. */
const asking = ref(false);
const kindSaid = ref<PaintOnShelf['kind'] | null>(null);

const looking = useLatest<PaintOnShelf>(
  async (paint) => {
    chip.value = await take(api.POST('/api/shelf/chip', { body: paint }));
    problem.value = '';
  },
  (error) => (problem.value = sentence(error)),
);
const naming = useLatest<string>(
  async (name) => {
    const guess = await take(api.GET('/api/shelf/named', { params: { query: { name } } }));
    asking.value = naming.waits();
    if (!isNew.value || draft.value.colour_from !== 'guessed') return;
    coloured.value = guess.colour !== null;
    if (guess.colour) draft.value.masstone = guess.colour;
    takeKind(guess);
    if (guess.finish) draft.value.finish = guess.finish;
  },
  (error) => {
    asking.value = false;
    problem.value = sentence(error);
  },
);
watch(
  () => draft.value.name,
  (name) => {
    if (!isNew.value || !open.value || !name.trim()) return;
    asking.value = true;
    naming.push(name);
  },
);
/** The kind a name says; when it says none any more, the usual one again. */
function takeKind(guess: NamedPaint): void {
  if (guess.kind) draft.value.kind = guess.kind;
  else if (draft.value.kind === kindSaid.value) draft.value.kind = usual.value.kind;
  if (guess.kind !== kindSaid.value) draft.value.opacity = guess.opacity ?? 'opaque';
  kindSaid.value = guess.kind;
}
function setColour(colour: string): void {
  draft.value.masstone = colour;
  draft.value.colour_from = 'given';
  coloured.value = true;
}
watch(
  () => props.paint,
  (paint) => {
    draft.value = cloneDeep(paint);
    const film = paint.swatches?.film_um;
    filmAs.value = !film || isWhole(film / PASS_UM.value) ? 'passes' : 'um';
    problem.value = '';
    chip.value = null;
    coloured.value = paint.name !== '';
    kindSaid.value = null;
  },
  { immediate: true },
);
watch(
  [draft, open],
  () => {
    if (open.value) looking.push({ ...draft.value, name: draft.value.name.trim() || 'New paint' });
  },
  { deep: true, immediate: true },
);
const swatched = computed({
  get: () => draft.value.swatches !== null && draft.value.swatches !== undefined,
  set: (on: boolean) => {
    draft.value.swatches = on
      ? {
          over_dark: chip.value?.over_dark ?? draft.value.masstone,
          over_light: chip.value?.over_light ?? draft.value.masstone,
          dark: '#0c0c0d',
          light: '#f6f6f2',
          film_um: SWATCH_PASSES * PASS_UM.value,
        }
      : null;
  },
});
const swatchPasses = computed({
  get: () => Math.max(1, Math.round((draft.value.swatches?.film_um ?? 0) / PASS_UM.value)),
  set: (count: number) => (draft.value.swatches!.film_um = count * PASS_UM.value),
});
const counted = computed({
  get: () => draft.value.ml_left !== null && draft.value.ml_left !== undefined,
  set: (on: boolean) => (draft.value.ml_left = on ? 15 : null),
});

function isWhole(count: number): boolean {
  return Math.abs(count - Math.round(count)) < 1e-6;
}

async function save(another = false): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const paint = { ...draft.value, name: draft.value.name.trim() };
    if (isNew.value) {
      paint.id = freshId(paint.maker ?? '', paint.name);
      usual.value = {
        ...pick(paint, 'maker', 'range', 'drop_ul'),
        kind: paint.kind === kindSaid.value ? usual.value.kind : paint.kind,
      };
    }
    await take(api.PUT('/api/shelf/paint', { body: paint }));
    emit('saved');
    if (another) next(paint);
    else open.value = false;
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
/** A blank one after a paint that was added, its name where one types. */
function next(after: PaintOnShelf): void {
  saved.value = `${after.name} is on the shelf.`;
  emit('another');
  nameField.value?.focus();
}
function passes(count: number | null): string {
  if (count === null) return 'never its own colour';
  return `${count} ${count === 1 ? 'pass' : 'passes'} to its own colour`;
}
</script>

<template>
  <ElDrawer
    v-model="open"
    :title="isNew ? 'A new paint' : paint.name"
    size="460px"
    data-test="paint-editor"
    append-to-body
    @opened="isNew && nameField?.focus()"
    @closed="saved = ''"
  >
    <form
      :id="formId"
      class="paint"
      @submit.prevent="save()"
      @keydown.ctrl.enter.prevent="isNew && ready && save(true)"
    >
      <div v-if="chip" class="over">
        <figure v-for="g in ['dark', 'mid', 'light'] as const" :key="g">
          <span :class="g"><i :style="{ background: chip[`over_${g}`] }" /></span>
          <figcaption class="small">over {{ g }}<br />{{ passes(chip[`passes_${g}`]) }}</figcaption>
        </figure>
      </div>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <p v-if="saved" class="small" role="status">{{ saved }}</p>
      <TextField ref="nameField" v-model="draft.name" label="Name" required />
      <div class="pair">
        <TextField v-model="draft.maker" label="Maker" />
        <TextField v-model="draft.range" label="Range" />
      </div>
      <div class="pair">
        <ChoiceField v-model="draft.kind" label="Kind" :choices="asChoices(PAINT_KINDS)" />
        <ChoiceField v-model="draft.finish" label="Finish" :choices="asChoices(FINISHES)" />
      </div>
      <ColourField label="Colour" :model-value="draft.masstone" @update:model-value="setColour" />
      <p v-if="draft.colour_from === 'guessed'" class="small" data-test="colour-from">
        {{
          coloured
            ? 'Guessed from the name. Set it, and it counts as yours.'
            : 'The name says no colour: set it before you save.'
        }}
        <ElButton v-if="!isNew" size="small" text @click="setColour(draft.masstone)">
          It is right
        </ElButton>
      </p>
      <PhotoPick @picked="setColour" />
      <ChoiceField
        v-if="!swatched"
        v-model="draft.opacity"
        label="Opacity"
        :choices="asChoices(OPACITIES)"
      />
      <ElCheckbox v-model="swatched">I have two swatches, over black and white</ElCheckbox>
      <template v-if="draft.swatches">
        <div class="pair">
          <ColourField v-model="draft.swatches.over_dark" label="Over black" />
          <ColourField v-model="draft.swatches.over_light" label="Over white" />
        </div>
        <ElRadioGroup v-model="filmAs" aria-label="How the film of both is told">
          <ElRadioButton value="passes">Counted in passes</ElRadioButton>
          <ElRadioButton value="um">Measured film</ElRadioButton>
        </ElRadioGroup>
        <div class="pair">
          <NumberField
            v-if="filmAs === 'passes'"
            v-model="swatchPasses"
            label="Passes over both"
            :min="1"
            :max="100"
          />
          <NumberField
            v-else
            label="Dry film of both"
            unit="µm"
            :min="0.5"
            :max="500"
            :digits="1"
            :model-value="draft.swatches.film_um!"
            @update:model-value="draft.swatches!.film_um = $event"
          />
        </div>
        <p class="small">
          The film is the weak part of two swatches: half as much again, and a thin coat is told off
          by ΔE 4, at worst 13. Two to four even passes tell most; a pass lays
          {{ decimals(PASS_UM.low, 1) }} to {{ decimals(PASS_UM.high, 1) }} µm.
        </p>
      </template>
      <div class="pair">
        <NumberField
          label="Drop size"
          unit="µl"
          :min="5"
          :max="200"
          :model-value="draft.drop_ul!"
          @update:model-value="draft.drop_ul = $event"
        />
        <NumberField
          label="Fluorescent"
          unit="%"
          :min="0"
          :max="100"
          :model-value="draft.fluorescent! * 100"
          @update:model-value="draft.fluorescent = $event / 100"
        />
      </div>
      <StrengthTest :paint="draft" @found="draft.strength = $event" />
      <ElCheckbox v-model="counted">Track what is left</ElCheckbox>
      <NumberField
        v-if="counted"
        label="Left"
        unit="ml"
        :min="0"
        :max="100000"
        :digits="1"
        :model-value="draft.ml_left ?? 0"
        @update:model-value="draft.ml_left = $event"
      />
      <p class="small">
        Chips show a dry film of 6 µm; a usual pass leaves {{ decimals(PASS_UM.value, 1) }} µm.
        Estimated; a swatch of your own confirms it.
      </p>
    </form>
    <template #footer>
      <div class="keys">
        <ElButton type="primary" native-type="submit" :form="formId" :disabled="!ready">
          {{ isNew ? 'Save paint' : 'Save' }}
        </ElButton>
        <ElButton
          v-if="isNew"
          :disabled="!ready"
          title="Ctrl+Enter"
          data-test="another"
          @click="save(true)"
        >
          Save and add another
        </ElButton>
        <ElButton
          v-if="!isNew"
          @click="
            emit('away', paint.id);
            open = false;
          "
        >
          Delete
        </ElButton>
      </div>
    </template>
  </ElDrawer>
</template>

<style scoped>
.paint {
  display: grid;
  gap: 10px;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.over {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}
figure {
  margin: 0;
}
figure > span {
  display: block;
  padding: 12px;
}
figure i {
  display: block;
  height: 46px;
}
.dark {
  background: #17181a;
}
.mid {
  background: #77787a;
}
.light {
  background: #f3f2ec;
  border: 1px solid var(--hair);
}
</style>
