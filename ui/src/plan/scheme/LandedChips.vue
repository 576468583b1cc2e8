<script setup lang="ts">
import { computed } from 'vue';

import type { StartedOut } from '@/api/client';

import { PLACES_ALONG } from './gradient';

/** The asked colour and what it became in shade, half light and light, or along its gradient. */
const props = defineProps<{ found: StartedOut; named?: boolean }>();
const chips = computed(() => {
  const along = props.found.plan.asked?.along ?? 'light';
  const [start, middle, end] =
    along === 'light' ? ['shade', 'half light', 'light'] : PLACES_ALONG[along];
  const { lands } = props.found;
  return [
    { word: 'asked', colour: props.found.asked },
    { word: start, colour: lands.shade },
    { word: middle, colour: lands.middle },
    { word: end, colour: lands.light },
  ];
});
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
