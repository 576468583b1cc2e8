<script setup lang="ts">
import { ElSegmented } from 'element-plus';
import { useRoute, useRouter } from 'vue-router';

/** What Cards is for: to read a photo of one, to practise on made ones, to look at a piece. */
const OPTIONS = [
  { label: 'Read', value: 'cards' },
  { label: 'Practise', value: 'practice' },
  { label: 'Compare', value: 'compare' },
];
const route = useRoute();
const router = useRouter();
</script>

<template>
  <ElSegmented
    :model-value="String(route.name)"
    :options="OPTIONS"
    size="small"
    aria-label="What to do with cards"
    data-test="cards-tabs"
    @change="(name: string) => router.push({ name })"
  />
</template>
