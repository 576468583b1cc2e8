<script setup lang="ts">
import { computed } from 'vue';

import { SHELF_LACKS } from '@/craft.generated';

/** A way to what the shelf lacks, where a sentence of Haze says that it does. */
const props = defineProps<{ text: string }>();
const what = computed(() => {
  if (!props.text.includes(SHELF_LACKS)) return null;
  return props.text.includes(`${SHELF_LACKS} airbrush`)
    ? { add: 'airbrush', label: 'Add an airbrush' }
    : { add: 'paint', label: 'Add a paint' };
});
</script>

<template>
  <RouterLink
    v-if="what"
    :to="{ name: 'shelf', query: { add: what.add } }"
    data-test="add-to-shelf"
    >{{ what.label }}</RouterLink
  >
</template>
