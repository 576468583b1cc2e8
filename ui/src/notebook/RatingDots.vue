<script setup lang="ts">
/** One to five, as dots; none when nobody rated it. */
defineProps<{ value: number | null }>();
const MOST = 5;
</script>

<template>
  <span class="dots" role="img" :aria-label="value ? `rated ${value} of ${MOST}` : 'not rated'">
    <i v-for="n in MOST" :key="n" :class="{ full: n <= (value ?? 0) }" />
  </span>
</template>

<style scoped>
.dots {
  display: flex;
  gap: 4px;
}
i {
  width: 12px;
  height: 12px;
  border: 1.5px solid var(--edge);
  border-radius: 50%;
}
i.full {
  border-color: var(--ink);
  background: var(--ink);
}
</style>
