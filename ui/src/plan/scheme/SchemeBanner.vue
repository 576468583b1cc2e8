<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import AddToShelf from '@/displays/AddToShelf.vue';
import { preparing } from '@/api/client';
import WorkBar from '@/displays/WorkBar.vue';
import { useScheme } from '@/stores/scheme';

/** How far the scheme of this plan is, what is to be said of it, or why there is none. */
const props = defineProps<{ plan: string }>();
const scheme = useScheme();
const mine = computed(() => !!props.plan && scheme.of === props.plan);
const work = computed(() => scheme.job ?? preparing.value);
const doing = computed(() => work.value?.doing ?? 'Getting the piece ready');
</script>

<template>
  <div v-if="mine" class="banner no-print" data-test="scheme">
    <template v-if="scheme.problem">
      <p role="alert">{{ scheme.problem }}</p>
      <AddToShelf :text="scheme.problem" />
      <ElButton text @click="scheme.dismiss()">Close</ElButton>
    </template>
    <template v-else-if="scheme.notes.length">
      <p role="status" data-test="scheme-notes">{{ scheme.notes.join(' ') }}</p>
      <AddToShelf :text="scheme.notes.join(' ')" />
      <ElButton text @click="scheme.dismiss()">Close</ElButton>
    </template>
    <template v-else>
      <p role="status"><b>Working out the coats.</b> {{ doing }}</p>
      <WorkBar :share="work?.progress ?? 0" :doing="doing" />
      <ElButton text @click="scheme.stop()">Stop</ElButton>
    </template>
  </div>
</template>

<style scoped>
.banner {
  display: grid;
  grid-auto-flow: column;
  grid-template-columns: minmax(0, 1fr);
  align-items: center;
  gap: 12px;
  margin: 0 12px 10px;
  padding: 8px 14px;
  border-radius: var(--round);
  background: var(--sheet);
}
.banner :deep(.el-progress) {
  width: 220px;
}
</style>
