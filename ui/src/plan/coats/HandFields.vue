<script setup lang="ts">
import { computed } from 'vue';

import type { HandStep } from '@/api/client';
import { AIMS, BY_HAND } from '@/craft.generated';
import CautionList from '@/displays/CautionList.vue';
import { decimals, share, stepWords } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

/** A step by hand: its paint, how strong, where, and the wait after it. */
const store = usePlan();
const shelf = useShelf();
const step = computed(() => store.hand!);
const work = computed(() => store.handWorkings);
const parts = computed(() => store.workings?.parts.map((v) => v.part) ?? []);
const paints = computed(() => BY_HAND.find((h) => h.id === step.value.role)?.paint ?? false);
const masks = computed(() => step.value.role === 'mask_on' || step.value.role === 'mask_off');

function set(reason: string, mutate: (draft: HandStep) => void): void {
  void store.changeStep(`${reason} of ${step.value.name}`, (draft) => {
    if (draft.kind === 'hand') mutate(draft);
  });
}
function setPaint(id: string): void {
  const paint = shelf.shelf.paints.find((p) => p.id === id);
  if (paint)
    set('Paint', (draft) => {
      draft.paint = paint;
      draft.name = paint.name;
    });
}
</script>

<template>
  <h2>{{ step.name }}</h2>
  <p class="small">
    {{ stepWords(step) }}, by hand<template v-if="work?.layer">
      · {{ decimals(work.layer.dry_um, 1) }} µm · lands on
      {{ share(work.layer.landed_share) }}</template
    >
  </p>
  <p>{{ work?.words }}</p>
  <label v-if="paints">
    <span class="small">Paint</span>
    <select
      aria-label="Paint of this step"
      :value="step.paint?.id"
      @change="setPaint(($event.target as HTMLSelectElement).value)"
    >
      <option
        v-if="step.paint && !shelf.shelf.paints.some((p) => p.id === step.paint?.id)"
        :value="step.paint.id"
      >
        {{ step.paint.name }}
      </option>
      <option v-for="p in shelf.shelf.paints" :key="p.id" :value="p.id">{{ p.name }}</option>
    </select>
  </label>
  <div class="fields">
    <NumberField
      v-if="paints"
      label="How strong"
      unit="%"
      :min="5"
      :max="100"
      :model-value="step.strength! * 100"
      @update:model-value="(v) => set('Strength', (d) => (d.strength = v / 100))"
    />
    <NumberField
      label="Wait after it"
      unit="min"
      :min="0"
      :max="20000"
      :model-value="(work?.wait_s ?? 0) / 60"
      @update:model-value="(v) => set('Wait', (d) => (d.minutes = v))"
    />
  </div>
  <label v-if="paints || masks">
    <span class="small">{{ masks ? 'Which part' : 'Only on' }}</span>
    <select
      :aria-label="masks ? 'Which part' : 'Only on'"
      :value="step.part ?? ''"
      @change="set('Part', (d) => (d.part = ($event.target as HTMLSelectElement).value || null))"
    >
      <option v-if="step.role !== 'mask_on'" value="">
        {{ masks ? 'all masks' : 'the whole piece' }}
      </option>
      <option v-for="p in parts" :key="p.id" :value="p.id">{{ p.name }}</option>
    </select>
  </label>
  <p v-if="step.aim" class="small">Graded by zone: {{ AIMS[step.aim.field] }}.</p>
  <CautionList v-if="work?.cautions.length" :cautions="work.cautions" />
</template>

<style scoped>
label {
  display: grid;
  gap: 2px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
