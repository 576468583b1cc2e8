<script setup lang="ts">
import { BARE } from '@/craft.generated';
import { computed } from 'vue';

import { useShelf } from '@/stores/shelf';

/** Whole drops of paints, counted as dots, with their names. */
const props = defineProps<{ drops: Record<string, number> }>();
const shelf = useShelf();
const rows = computed(() =>
  Object.entries(props.drops).map(([id, count]) => {
    const paint = shelf.shelf.paints.find((p) => p.id === id);
    return { id, count, name: paint?.name ?? id, colour: paint?.masstone ?? BARE };
  }),
);
</script>

<template>
  <ul>
    <li v-for="r in rows" :key="r.id">
      <span class="dots" aria-hidden="true"
        ><i v-for="n in r.count" :key="n" :style="{ background: r.colour }"
      /></span>
      <span
        ><b class="number">{{ r.count }}</b> {{ r.name }}</span
      >
    </li>
  </ul>
</template>

<style scoped>
ul {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: var(--f14);
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
}
.dots {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
}
i {
  width: 11px;
  height: 11px;
  border: 1px solid var(--edge);
  border-radius: 50%;
}
</style>
