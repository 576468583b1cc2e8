<script setup lang="ts">
import { ElButton } from 'element-plus';
import { defineAsyncComponent, reactive, shallowRef } from 'vue';

import type { PieceGeometry } from '@/instruments/piece/geometry';
import type { View } from '@/instruments/piece/view';

/** More ways to look at the piece than one card: after every coat, and beside another plan. */
const props = defineProps<{ geometry: PieceGeometry; view: () => View }>();
const CoatByCoat = defineAsyncComponent(() => import('./CoatByCoat.vue'));
const SideBySide = defineAsyncComponent(() => import('./SideBySide.vue'));

const shown = reactive({ coats: false, beside: false });
const from = shallowRef<View | null>(null);
function open(what: keyof typeof shown): void {
  from.value = props.view();
  shown[what] = true;
}
</script>

<template>
  <ElButton text size="small" data-test="coat-by-coat" @click="open('coats')">
    Coat by coat
  </ElButton>
  <ElButton text size="small" data-test="side-by-side" @click="open('beside')">
    Side by side
  </ElButton>
  <template v-if="from">
    <CoatByCoat v-model="shown.coats" :geometry="geometry" :from="from" />
    <SideBySide v-model="shown.beside" :from="from" />
  </template>
</template>

<style scoped>
.el-button {
  margin: 0;
  color: #111;
}
.el-button:hover,
.el-button:focus-visible {
  background: #6f6f6f;
  color: #fff;
}
</style>
