<script setup lang="ts">
import { ElButton } from 'element-plus';
import { pick } from 'lodash-es';
import { computed, ref } from 'vue';

import type { TrialLook } from '@/api/client';
import { AXES, axisOf } from '@/window/axes';
import { SCHOOLS, type Knob } from '@/craft.generated';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';
import { cupWords, decimals, duration } from '@/displays/format';
import PrintCard from '@/cards/PrintCard.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import { additives, knobLabel, SET, turned } from './knobs';
import BenchFields from './BenchFields.vue';
import TriedOnCard from './TriedOnCard.vue';
import TroubleDialog from './TroubleDialog.vue';
import { useBenchChoice } from './use-bench-choice';
import { useBenchPoint, type Given } from './use-bench-point';
import { useSetting, type Asked, type WindowTask } from './use-setting';
import WindowPanel from './WindowPanel.vue';
import WindowTable from './WindowTable.vue';

/** One paint through one needle: choose both, see where it sprays clean, spray, say how it looked. */
const props = defineProps<{ name: string; narrow?: boolean }>();
const shelf = useShelf();
const settings = useSettings();
const unit = computed(() => settings.values.pressure_unit ?? 'psi');
const chosen = useBenchChoice(props.name, () => shelf.shelf);
const { paint, airbrush, thinner, over, task, school } = chosen;

const TASKS: { id: WindowTask; label: string }[] = [
  { id: 'cover', label: 'covering' },
  { id: 'prime', label: 'priming' },
  { id: 'light', label: 'light coats' },
  { id: 'rung', label: 'rungs' },
  { id: 'veil', label: 'veils, tints' },
  { id: 'metal', label: 'metal' },
  { id: 'varnish', label: 'varnish' },
];
const OVER = [
  { id: 'matt 50', label: 'matt grey' },
  { id: 'matt 8', label: 'matt black' },
  { id: 'matt 95', label: 'matt white' },
  { id: 'satin 50', label: 'satin grey' },
  { id: 'gloss 50', label: 'gloss grey' },
  { id: 'bare 50', label: 'bare resin or metal' },
];
const ROOM = { temperature_c: 20, humidity_pct: 50 };

const ground = computed(() => {
  const [surface, lightness] = over.value.split(' ');
  return {
    surface: surface as 'matt' | 'satin' | 'gloss' | 'bare',
    lightness: Number(lightness),
    contrast: null,
  };
});
const given = computed<Given | null>(() => {
  const [p, a, t] = [paint.value, airbrush.value, thinner.value];
  if (!p || !a || !t) return null;
  return {
    paint: { kind: p.kind, drop_ul: p.drop_ul },
    needle_mm: a.needle_mm,
    thinner: t.kind,
    room: ROOM,
    ground: ground.value,
  };
});
const { spray, passes, none, begin } = useBenchPoint(props.name, given, chosen);

const asked = computed<Asked | null>(() => {
  const body = given.value;
  const now = spray.value;
  if (!body || !now) return null;
  return {
    paint: { id: paint.value!.id, name: paint.value!.name, kind: paint.value!.kind },
    airbrush: {
      id: airbrush.value!.id,
      name: airbrush.value!.name,
      needle_mm: airbrush.value!.needle_mm,
    },
    task: task.value === 'varnish' ? 'matt' : task.value,
    setting: {
      ...body,
      ...pick(now, SET),
      additives: additives(now),
      passes: passes.value,
    },
  };
});
const acrossKnob = ref<Knob>('thinner_parts');
const upKnob = ref<Knob>('pressure_psi');
const across = computed(() => axisOf(acrossKnob.value, unit.value));
const up = computed(() => axisOf(upKnob.value, unit.value));
const setting = useSetting(
  () => asked.value,
  () => ({ across: across.value, up: up.value }),
  () => task.value,
);
const shown = computed(() => (spray.value ? { ...spray.value, ...setting.dragged.value } : null));
function axis(which: 'across' | 'up', knob: Knob): void {
  const [mine, other] = which === 'across' ? [acrossKnob, upKnob] : [upKnob, acrossKnob];
  if (other.value === knob) other.value = mine.value;
  mine.value = knob;
}
function change(knobs: Record<string, number>): void {
  setting.dragged.value = {};
  if (spray.value) spray.value = turned(spray.value, knobs);
}
function reset(): void {
  setting.dragged.value = {};
  void begin();
}
function log(look: TrialLook): void {
  void setting.log(look);
}
const troubled = ref(false);
const printing = ref(false);
const table = ref(false);
const figures = computed<Figure[]>(() => {
  const told = setting.told.value;
  if (!told) return [];
  const s = told.spray;
  return [
    { word: 'spot', value: decimals(s.footprint_mm, 0), unit: 'mm' },
    {
      word: 'dry, a pass',
      value: `${decimals(s.dry_film_um_low, 1)}–${decimals(s.dry_film_um_high, 1)}`,
      unit: 'µm',
      from: 'in most airbrushes; from the model and your trials',
    },
    { word: 'drops', value: cupWords(told.cup), from: poured.value },
    { word: 'touch-dry with air', value: duration(s.touch_dry_s.blown ?? 0) },
  ];
});
const poured = computed(() =>
  (setting.told.value?.cup ?? [])
    .map((c) => `${c.drops} drops of ${c.what.replace('_', ' ')}`)
    .join(', then '),
);
</script>

<template>
  <div class="bench" :class="{ narrow }" :data-test="`bench-${name}`">
    <section class="sheet field">
      <div class="choices">
        <BenchFields :chosen="chosen" />
        <ChoiceField v-model="over" label="Over" :choices="OVER" />
        <ChoiceField v-model="task" label="For" :choices="TASKS" />
        <ChoiceField
          v-model="school"
          label="School"
          :choices="SCHOOLS.pressure.map((s) => ({ id: s.id, label: s.name }))"
        />
      </div>
      <p v-if="none" class="note" role="status">{{ none }}</p>
      <p v-if="setting.problem.value" class="note stop" role="alert">{{ setting.problem.value }}</p>
      <template v-if="shown">
        <WindowPanel
          v-if="!table"
          :spray="shown"
          :told="setting.told.value"
          :window="setting.window.value"
          :known="setting.known.value"
          :across="across"
          :up="up"
          without-scales
          @sketch="setting.sketch"
          @change="change"
        />
        <WindowTable v-else :window="setting.window.value" :across="across" :up="up" />
        <div class="axes">
          <ChoiceField
            label="Across"
            :model-value="acrossKnob"
            :choices="AXES.map((k) => ({ id: k, label: knobLabel(k) }))"
            @update:model-value="(k: Knob) => axis('across', k)"
          />
          <ChoiceField
            label="Up"
            :model-value="upKnob"
            :choices="AXES.map((k) => ({ id: k, label: knobLabel(k) }))"
            @update:model-value="(k: Knob) => axis('up', k)"
          />
          <ElButton text data-test="as-table" @click="table = !table">
            {{ table ? 'As a picture' : 'As a table' }}
          </ElButton>
        </div>
      </template>
    </section>
    <section v-if="shown" class="sheet set">
      <header>
        <h2>{{ paint?.name }}</h2>
        <span class="ways">
          <ElButton text data-test="to-recipe" @click="reset">Reset to recipe</ElButton>
          <ElButton text data-test="print-card" @click="printing = true">Print a card</ElButton>
          <ElButton text data-test="trouble" @click="troubled = true">Something wrong?</ElButton>
        </span>
      </header>
      <WindowPanel
        :spray="shown"
        :told="setting.told.value"
        :window="null"
        :swatch="setting.swatch.value"
        :known="setting.known.value"
        :across="across"
        :up="up"
        without-window
        @sketch="setting.sketch"
        @change="change"
      />
      <FigureRow class="figures" :figures="figures" />
      <TriedOnCard
        :known="setting.known.value"
        :taught="setting.taught.value"
        :counts="setting.counts.value"
        @log="log"
        @back="setting.takeBack"
      />
    </section>
    <PrintCard v-model="printing" :asked="asked">
      <p v-if="asked">{{ asked.paint.name }} through {{ asked.airbrush.name }}, as it is set.</p>
    </PrintCard>
    <TroubleDialog v-model="troubled" :asked="asked" @turn="(k, to) => change({ [k]: to })" />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(330px, 1fr);
  gap: 10px;
}
.bench.narrow {
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
}
.sheet {
  display: grid;
  align-content: start;
  gap: 12px;
}
.choices {
  display: grid;
  grid-template-columns: 1.6fr 1.3fr 1.2fr;
  gap: 8px 12px;
}
.axes {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  align-items: end;
  gap: 12px;
}
header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.figures {
  padding: 10px 0;
  border-block: 1px solid var(--hair);
}
@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
