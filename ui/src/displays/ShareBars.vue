<script setup lang="ts">
import { computed } from 'vue';

import type { Shares } from '@/api/client';

import { share } from './format';

/** How much is in light, half light and dark. */
const props = defineProps<{ shares: Shares; narrow?: boolean }>();
const bars = computed(() => [
  { name: 'in light', value: props.shares.lit, shade: 'var(--bar-light)' },
  { name: 'half light', value: props.shares.half, shade: 'var(--bar-half)' },
  { name: 'dark', value: props.shares.dark, shade: 'var(--bar-dark)' },
]);
</script>

<template>
  <div class="bars" :class="{ narrow }">
    <div v-for="b in bars" :key="b.name" class="bar">
      <span>{{ b.name }}</span>
      <span class="track"
        ><i :style="{ width: `${Math.round(b.value * 100)}%`, background: b.shade }"
      /></span>
      <span class="number">{{ share(b.value) }}</span>
    </div>
  </div>
</template>

<style scoped>
.bars {
  display: grid;
  gap: 4px;
  --bar-light: #f9f9f9;
  --bar-half: #8f8f8f;
  --bar-dark: #1d1d1d;
}
.bar {
  display: grid;
  grid-template-columns: 74px 1fr 44px;
  align-items: center;
  gap: 8px;
  font-size: var(--f14);
}
.narrow .bar {
  grid-template-columns: 70px 1fr 42px;
}
.number {
  text-align: right;
}
.track {
  height: 14px;
  background: var(--well-2);
}
.track i {
  display: block;
  height: 100%;
  border: 1px solid var(--edge);
}
</style>
