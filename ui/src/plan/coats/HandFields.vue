<script setup lang="ts">
import { computed } from 'vue';

import type { Aim, HandStep, PaintUsed } from '@/api/client';
import { AIMS, BY_HAND, MASKS, ZONES } from '@/craft.generated';
import CautionList from '@/displays/CautionList.vue';
import TradeWord from '@/displays/TradeWord.vue';
import { decimals, share, stepWords } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';
import PaintField from '@/fields/PaintField.vue';

/** A step by hand: its paint, how strong, where, and the wait after it. */
const store = usePlan();
const step = computed(() => store.hand!);
const work = computed(() => store.handWorkings);
const parts = computed(() => store.workings?.parts.map((v) => v.part) ?? []);
const paints = computed(() => BY_HAND.find((h) => h.id === step.value.role)?.paint ?? false);
const masks = computed(() => step.value.role === 'mask_on' || step.value.role === 'mask_off');

const ALL = '*';
const ZONE = 'zone';
const places = computed(() => [
  ...(step.value.role === 'mask_on'
    ? []
    : [{ id: ALL, label: masks.value ? 'all masks' : 'the whole piece' }]),
  ...(masks.value && step.value.aim ? [{ id: ZONE, label: maskedZone(step.value.aim) }] : []),
  ...parts.value.map((p) => ({ id: p.id, label: p.name })),
]);
const place = computed(() => (masks.value && step.value.aim ? ZONE : (step.value.part ?? ALL)));
const kinds = MASKS.map((m) => ({ id: m.id, label: m.label, more: m.edge }));
function maskedZone(aim: Aim): string {
  const part = parts.value.find((p) => p.id === aim.part)?.name;
  const where = aim.field === 'part' ? (part ?? 'a part') : ZONES[aim.field];
  return aim.reversed ? `everything but ${where.toLowerCase()}` : where.toLowerCase();
}
function setPlace(to: string): void {
  if (to === ZONE) return;
  set('Part', (draft) => {
    draft.part = to === ALL ? null : to;
    if (masks.value) draft.aim = null;
  });
}

function set(reason: string, mutate: (draft: HandStep) => void): void {
  void store.changeStep(`${reason} of ${step.value.name}`, (draft) => {
    if (draft.kind === 'hand') mutate(draft);
  });
}
function setPaint(paint: PaintUsed): void {
  set('Paint', (draft) => {
    draft.paint = paint;
    draft.name = paint.name;
  });
}
</script>

<template>
  <h2>{{ step.name }}</h2>
  <p class="small">
    <TradeWord :word="stepWords(step)" />, by hand<template v-if="work?.layer">
      · {{ decimals(work.layer.dry_um, 1) }} µm · lands on
      {{ share(work.layer.landed_share) }}</template
    >
  </p>
  <p>{{ work?.words }}</p>
  <PaintField
    v-if="paints"
    label="Paint of this step"
    :paint="step.paint ?? null"
    @chosen="setPaint"
  />
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
  <ChoiceField
    v-if="paints || masks"
    :label="masks ? 'Over what' : 'Only on'"
    :model-value="place"
    :choices="places"
    @update:model-value="setPlace"
  />
  <ChoiceField
    v-if="step.role === 'mask_on'"
    label="With what"
    :model-value="step.mask"
    :choices="kinds"
    @update:model-value="(v) => set('Mask', (d) => (d.mask = v))"
  />
  <p v-if="step.aim && !masks" class="small">Graded by zone: {{ AIMS[step.aim.field] }}.</p>
  <CautionList v-if="work?.cautions.length" :cautions="work.cautions" />
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
