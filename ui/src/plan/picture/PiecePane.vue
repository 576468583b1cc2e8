<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';

import { sentence, type Plan } from '@/api/client';
import { useLatest } from '@/composables/use-latest';
import { takeColours } from '@/instruments/piece/colours';
import { PieceScene } from '@/instruments/piece/piece-scene';
import { useGestures } from '@/instruments/piece/use-gestures';
import { usePiece } from '@/instruments/piece/use-piece';
import type { View } from '@/instruments/piece/view';
import WorkBar from '@/displays/WorkBar.vue';

/** One plan on its piece, finished, to be looked at beside another. */
const props = defineProps<{ plan: Plan; look: string; label: string }>();
const view = defineModel<View | null>('view', { required: true });
const holder = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width, height } = useElementSize(holder);
const scene = shallowRef<PieceScene | null>(null);
const { key, geometry, job, problem } = usePiece(() => props.plan);
const refused = ref('');
const drawn = ref(0);

const colours = useLatest<string>(
  async (body) => {
    const { bytes, layout } = await takeColours(body);
    refused.value = '';
    if (scene.value?.setColours(bytes, layout, props.look === 'as_painted')) drawn.value += 1;
  },
  (error) => (refused.value = sentence(error)),
);

onMounted(() => {
  try {
    scene.value = new PieceScene(canvas.value!);
    scene.value.onView = (now) => (view.value = now);
  } catch {
    refused.value = 'This browser cannot draw in three dimensions: WebGL is off.';
  }
});
onBeforeUnmount(() => {
  colours.stop();
  scene.value?.dispose();
});
watch([width, height], ([w, h]) => scene.value?.resize(w, h));
watch([scene, geometry], ([s, g]) => g && s?.setGeometry(g));
watch(view, (now) => {
  if (now && scene.value) scene.value.view = now;
});
watch(
  () => [key.value, geometry.value, props.plan, props.look] as const,
  ([ready, , plan, look]) => {
    const after = plan.coats?.length ?? 0;
    if (ready) colours.push(JSON.stringify({ plan, after, look, fine: true }));
  },
  { flush: 'post' },
);

const gestures = useGestures(scene);
</script>

<template>
  <div ref="holder" class="pane">
    <canvas
      ref="canvas"
      tabindex="0"
      role="img"
      :aria-label="label"
      :data-drawn="drawn || undefined"
      data-test="pane"
      v-on="gestures"
    />
    <div v-if="job" class="plate" role="status">
      <p>{{ job.doing }}</p>
      <WorkBar :share="job.progress" :doing="job.doing" />
    </div>
    <p v-else-if="problem || refused" class="plate" role="alert">{{ problem || refused }}</p>
  </div>
</template>

<style scoped>
.pane {
  position: relative;
  min-height: 0;
  border-radius: 8px;
  overflow: hidden;
  background: var(--card);
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: grab;
  touch-action: none;
}
.plate {
  position: absolute;
  left: 20px;
  right: 20px;
  bottom: 20px;
  padding: 12px;
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
}
</style>
