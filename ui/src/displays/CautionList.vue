<script setup lang="ts">
import type { Caution } from '@/api/client';

import StatusSign from './StatusSign.vue';

defineProps<{ cautions: Caution[] }>();
</script>

<template>
  <ul class="cautions" aria-label="Cautions">
    <li v-for="c in cautions" :key="c.id" :class="c.sign">
      <StatusSign :sign="c.sign" />
      <span>{{ c.text }}</span>
    </li>
  </ul>
</template>

<style scoped>
.cautions {
  display: grid;
  gap: 3px;
  margin: 0;
  padding: 8px 12px;
  border-left: 4px solid var(--sign-mind);
  border-radius: 4px 8px 8px 4px;
  background: var(--well);
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 58px 1fr;
  gap: 8px;
  align-items: start;
  font-size: var(--f14);
  line-height: 1.35;
}
</style>
