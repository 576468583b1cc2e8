<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import type { GlowLight } from '@/api/client';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

/** The chosen glow: its shape, how far it reaches, and where it sits. */
const emit = defineEmits<{ change: [fields: Partial<GlowLight>] }>();
const store = usePlan();
const glow = computed(() => (store.light?.kind === 'glow' ? store.light : null));

function place(end: 'at' | 'to'): void {
  store.picking = {
    words: end === 'at' ? 'Click on the new place of the glow.' : 'Click on the other end.',
    done: (at) => emit('change', { [end]: at }),
  };
}
function setShape(shape: GlowLight['shape']): void {
  emit('change', { shape });
  if (shape === 'strip' && !glow.value?.to) place('to');
}
/** Move a glow off the surface it was clicked on, or beside the piece: axis of the piece, in mm. */
function shift(axis: 0 | 1 | 2, mm: number): void {
  const work = store.workings;
  if (!glow.value || !work) return;
  // the file's own direction along that axis, per millimetre
  const along = work.frame[axis]!.slice(0, 3);
  const step = (mm * work.units_per_mm) / along.reduce((sum, v) => sum + v * v, 0);
  const moved = (at: number[]): number[] => at.map((v, i) => v + along[i]! * step);
  emit('change', {
    at: moved(glow.value.at),
    ...(glow.value.to ? { to: moved(glow.value.to) } : {}),
  });
}
const SHAPES: { id: NonNullable<GlowLight['shape']>; label: string }[] = [
  { id: 'sphere', label: 'a ball of light' },
  { id: 'strip', label: 'a strip' },
  { id: 'pool', label: 'a pool that faces up' },
];
const SHIFTS: { label: string; axis: 0 | 1 | 2; way: 1 | -1 }[] = [
  { label: 'Up', axis: 2, way: 1 },
  { label: 'Down', axis: 2, way: -1 },
  { label: 'Left', axis: 0, way: -1 },
  { label: 'Right', axis: 0, way: 1 },
  { label: 'To the front', axis: 1, way: -1 },
  { label: 'To the back', axis: 1, way: 1 },
];
</script>

<template>
  <template v-if="glow">
    <ChoiceField
      class="wide"
      label="Shape"
      :model-value="glow.shape!"
      :choices="SHAPES"
      @update:model-value="setShape"
    />
    <NumberField
      label="Full light at"
      unit="mm"
      :min="0.5"
      :max="1000"
      :digits="1"
      :model-value="glow.reach_mm!"
      @update:model-value="emit('change', { reach_mm: $event })"
    />
    <NumberField
      v-if="glow.shape !== 'strip'"
      label="Radius"
      unit="mm"
      :min="0.1"
      :max="500"
      :digits="1"
      :model-value="glow.radius_mm!"
      @update:model-value="emit('change', { radius_mm: $event })"
    />
    <NumberField
      label="No shadow within"
      unit="mm"
      :min="0"
      :max="100"
      :digits="1"
      :model-value="glow.clear_mm!"
      @update:model-value="emit('change', { clear_mm: $event })"
    />
    <span class="places">
      <ElButton @click="place('at')">Place</ElButton>
      <ElButton v-if="glow.shape === 'strip'" @click="place('to')"> Other end </ElButton>
    </span>
    <span class="places" role="group" aria-label="Move the glow by a millimetre">
      <span class="small">1 mm</span>
      <ElButton v-for="m in SHIFTS" :key="m.label" @click="shift(m.axis, m.way)">
        {{ m.label }}
      </ElButton>
    </span>
  </template>
</template>

<style scoped>
.places {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
