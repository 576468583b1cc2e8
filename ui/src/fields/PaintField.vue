<script setup lang="ts">
import { computed } from 'vue';

import type { PaintUsed } from '@/api/client';
import { useShelf } from '@/stores/shelf';

import ChoiceField from './ChoiceField.vue';

/** One of the paints on the shelf, by its chip; the one in use stands there even when put away. */
const props = withDefaults(
  defineProps<{
    label: string;
    paint: PaintUsed | null;
    hideLabel?: boolean;
    placeholder?: string;
    without?: string[];
  }>(),
  { hideLabel: false, placeholder: '', without: () => [] },
);
const emit = defineEmits<{ chosen: [paint: PaintUsed] }>();
const shelf = useShelf();
const paints = computed(() => {
  const own = props.paint;
  const known = shelf.shelf.paints.filter((p) => !props.without.includes(p.id));
  return own && !known.some((p) => p.id === own.id) ? [own, ...known] : known;
});
function choose(id: string): void {
  const paint = paints.value.find((p) => p.id === id);
  if (paint) emit('chosen', paint);
}
</script>

<template>
  <ChoiceField
    :label="label"
    :hide-label="hideLabel"
    :placeholder="placeholder"
    typed
    :model-value="paint?.id ?? ''"
    :choices="
      paints.map((p) => ({ id: p.id, label: p.name, chip: p.masstone, more: p.maker || undefined }))
    "
    @update:model-value="choose"
  />
</template>
