<script setup lang="ts">
import { length } from '@/displays/format';
import { ElButton, ElCheckbox } from 'element-plus';
import { computed } from 'vue';

import type { Aim } from '@/api/client';
import { AIMS } from '@/craft.generated';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

/** Where an aimed coat goes, and how far it fades. */
const store = usePlan();
const aim = computed(() => store.coat?.aim ?? null);
const glows = computed(() => (store.plan?.lights ?? []).filter((l) => l.kind === 'glow'));
const parts = computed(() => store.workings?.parts.map((v) => v.part) ?? []);

const fields = computed(() =>
  (Object.entries(AIMS) as [Aim['field'], string][]).map(([id, label]) => ({
    id,
    label,
    disabled: id === 'glow' && !glows.value.length,
  })),
);
const MARGIN: Partial<Record<Aim['field'], string>> = {
  panels: 'Full from the border',
  part: 'Fades beyond it over',
};

function change(fields: Partial<Aim>): void {
  void store.changeCoat(`Changed the aim of ${store.coat?.name}`, (coat) => {
    if (coat.aim) Object.assign(coat.aim, fields);
  });
}
function setField(field: Aim['field']): void {
  if (field === 'ramp' && !(aim.value?.start && aim.value.end)) return drawRamp();
  change({
    field,
    light: field === 'glow' ? (glows.value[0]?.id ?? null) : (aim.value?.light ?? null),
    part: field === 'part' ? (aim.value?.part ?? parts.value[0]?.id ?? null) : aim.value?.part,
  });
}
/** Two clicks: where the ramp begins, and where it is full. */
function drawRamp(): void {
  store.picking = {
    words: 'Click where the ramp begins (nothing lands there).',
    done: (start) => {
      store.picking = {
        words: 'Now click where the coat is full.',
        done: (end) => change({ field: 'ramp', start, end }),
      };
    },
  };
}
</script>

<template>
  <section v-if="aim" class="aim" aria-label="Aim">
    <ChoiceField
      class="wide"
      label="Aimed"
      data-test="aim-field"
      :model-value="aim.field"
      :choices="fields"
      @update:model-value="setField"
    />
    <ChoiceField
      v-if="aim.field === 'glow'"
      class="wide"
      label="Glow"
      :model-value="aim.light ?? ''"
      :choices="glows.map((g) => ({ id: g.id!, label: g.name! }))"
      @update:model-value="change({ light: $event })"
    />
    <ChoiceField
      v-if="aim.field === 'part'"
      class="wide"
      label="Part"
      :model-value="aim.part ?? ''"
      :choices="parts.map((p) => ({ id: p.id, label: p.name }))"
      @update:model-value="change({ part: $event })"
    />
    <ElButton v-if="aim.field === 'ramp'" class="wide" @click="drawRamp">
      Draw the ramp again: two clicks
    </ElButton>
    <NumberField
      label="Rounds"
      :min="1"
      :max="200"
      :model-value="aim.passes ?? 1"
      @update:model-value="change({ passes: Math.round($event) })"
    />
    <NumberField
      v-if="MARGIN[aim.field]"
      :label="MARGIN[aim.field]!"
      unit="mm"
      :min="0"
      :max="200"
      :digits="1"
      :model-value="aim.margin_mm ?? 2"
      @update:model-value="change({ margin_mm: $event })"
    />
    <ElCheckbox
      class="wide"
      :model-value="aim.reversed ?? false"
      @update:model-value="change({ reversed: Boolean($event) })"
    >
      {{ aim.field === 'ramp' ? 'From the other end' : 'Everywhere but there' }}
    </ElCheckbox>
    <p v-if="store.coatWorkings?.panels" class="note wide" data-test="panel-fit">
      {{ store.coatWorkings.panels.words }}
    </p>
    <p class="small wide">
      The edge is as soft as the spot at {{ length(store.coat!.spray.distance_mm) }}.
    </p>
  </section>
</template>

<style scoped>
.aim {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
