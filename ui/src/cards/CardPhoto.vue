<script setup lang="ts">
import { computed } from 'vue';

import type { CardPhotoView } from '@/api/client';

import FittedPicture from '@/displays/FittedPicture.vue';

import { RING_WORDS } from './measures';

/** A photo of a card, with rings where a measure was seen. */
const props = defineProps<{ photo: CardPhotoView; measure: string | null }>();
const tall = computed(() => props.photo.height / props.photo.width);
const spots = computed(() => (props.measure && props.photo.found.spots[props.measure]) || []);
const word = computed(() => {
  const first = spots.value[0];
  const text = props.measure && RING_WORDS[props.measure];
  if (!first || !text) return null;
  return {
    text,
    left: `${Math.min(first.x, 0.8) * 100}%`,
    top: `${Math.max(first.y - first.r / tall.value, 0.06) * 100}%`,
  };
});
const alt = computed(() => {
  const card = props.photo.card;
  return card ? `Photo of card ${card.spoken}, ${card.paint}` : 'Photo of a card';
});
const outline = computed(() =>
  props.photo.found.outline.map(([x, y]) => `${x},${y * tall.value}`).join(' '),
);
</script>

<template>
  <FittedPicture :ratio="1 / tall">
    <img :src="`/api/cards/photos/${photo.id}.jpg`" :alt="alt" data-test="card-photo" />
    <svg :viewBox="`0 0 1 ${tall}`" aria-hidden="true">
      <polygon v-if="photo.found.refused && outline" class="edge" :points="outline" />
      <g v-for="(s, n) in spots" :key="n">
        <circle class="under" :cx="s.x" :cy="s.y * tall" :r="Math.max(s.r, 0.008)" />
        <circle class="ring" :cx="s.x" :cy="s.y * tall" :r="Math.max(s.r, 0.008)" />
      </g>
    </svg>
    <span v-if="word" class="word" :style="{ left: word.left, top: word.top }">{{
      word.text
    }}</span>
  </FittedPicture>
</template>

<style scoped>
circle,
.edge {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.under {
  stroke: #1a1a1a;
  stroke-width: 5px;
}
.ring,
.edge {
  stroke: #fff;
  stroke-width: 2.5px;
}
.word {
  position: absolute;
  padding: 3px 9px;
  transform: translate(-10px, -100%);
  border-radius: 5px;
  background: #1a1a1a;
  color: #fff;
  font-size: var(--f12);
  white-space: nowrap;
}
</style>
