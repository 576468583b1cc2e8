<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

import { sentence } from '@/api/client';
import { useShelf } from '@/stores/shelf';

import WindowBench from './WindowBench.vue';

/** A paint and a needle without any plan; two of them side by side. */
const shelf = useShelf();
const problem = ref('');
const beside = ref(false);
onMounted(async () => {
  try {
    await shelf.load();
  } catch (error) {
    problem.value = sentence(error);
  }
});
const ready = computed(() => shelf.shelf.paints.length && shelf.shelf.airbrushes.length);
</script>

<template>
  <div class="screen" :class="{ two: beside }">
    <header class="head">
      <h1>Window <small>no plan needed</small></h1>
      <ElCheckbox v-if="ready" v-model="beside" data-test="beside">two side by side</ElCheckbox>
    </header>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <p v-else-if="!ready" class="sheet">
      The window needs a paint and an airbrush.
      <RouterLink to="/shelf"><ElButton type="primary">Go to the shelf</ElButton></RouterLink>
    </p>
    <div v-else class="benches">
      <WindowBench :key="beside ? 'left' : 'one'" name="first" :narrow="beside" />
      <WindowBench v-if="beside" name="second" narrow />
    </div>
  </div>
</template>

<style scoped>
.screen {
  display: flex;
  flex-direction: column;
  min-height: 100%;
  padding: 12px;
  gap: 8px;
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 4px 8px;
}
.benches {
  display: grid;
  flex: 1;
  gap: 10px;
}
.two .benches {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
@media (max-width: 900px) {
  .two .benches {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
