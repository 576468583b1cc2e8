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
  gap: 1px;
  margin: 0;
  padding: 0;
  list-style: none;
  background: var(--line);
  border: 1px solid var(--line);
  border-radius: 3px;
}
li {
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 8px;
  align-items: baseline;
  padding: 5px 10px;
  background: var(--surface-2);
  font-size: var(--f14);
  line-height: 1.3;
}
</style>
