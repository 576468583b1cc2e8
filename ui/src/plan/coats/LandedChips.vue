<script setup lang="ts">
import { computed } from 'vue';

import type { StartedOut } from '@/api/client';

/** The asked colour and what it became: shade, half light, light; with words under them or not. */
const props = defineProps<{ found: StartedOut; named?: boolean }>();
const chips = computed(() => [
  { word: 'asked', colour: props.found.asked },
  { word: 'shade', colour: props.found.lands.shade },
  { word: 'half light', colour: props.found.lands.middle },
  { word: 'light', colour: props.found.lands.light },
]);
</script>

<template>
  <ol class="lands" aria-label="Where the colour lands">
    <li v-for="chip in chips" :key="chip.word" :title="chip.word">
      <i :class="{ named }" :style="{ background: chip.colour }" />
      <span v-if="named" class="small">{{ chip.word }}</span>
    </li>
  </ol>
</template>

<style scoped>
.lands {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
i {
  display: block;
  height: 20px;
  border: 1px solid var(--edge);
}
i.named {
  height: 28px;
}
</style>
