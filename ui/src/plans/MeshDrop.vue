<script setup lang="ts">
import { useDropZone } from '@vueuse/core';
import { ElProgress } from 'element-plus';
import { ref } from 'vue';

import { sendMesh, sentence, type MeshView } from '@/api/client';

const emit = defineEmits<{ done: [mesh: MeshView] }>();
const sent = ref<number | null>(null);
const problem = ref('');
const input = ref<HTMLInputElement>();
const zone = ref<HTMLElement>();
const { isOverDropZone: over } = useDropZone(zone, { onDrop: (files) => void take(files?.[0]) });

async function take(file: File | undefined): Promise<void> {
  if (!file || sent.value !== null) return;
  problem.value = '';
  sent.value = 0;
  try {
    emit('done', await sendMesh(file, (done) => (sent.value = done)));
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    sent.value = null;
    if (input.value) input.value.value = '';
  }
}
</script>

<template>
  <div ref="zone" class="drop" :class="{ over }">
    <template v-if="sent === null">
      <p>Drop a mesh here: STL, OBJ, PLY or GLB, up to 160 MiB.</p>
      <span class="ways">
        <button class="quiet-button" type="button" @click="input?.click()">Choose a file</button>
      </span>
    </template>
    <template v-else>
      <p role="status">{{ sent < 1 ? 'Sending the mesh' : 'Checking the mesh' }}</p>
      <ElProgress :percentage="Math.round(sent * 100)" :stroke-width="10" />
    </template>
    <input
      ref="input"
      type="file"
      accept=".stl,.obj,.ply,.glb"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Mesh file"
      data-test="mesh-file"
      @change="take(($event.target as HTMLInputElement).files?.[0])"
    />
    <p v-if="problem" class="said" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 10px;
  justify-items: start;
  padding: 14px;
  border: 1.5px dashed var(--edge);
  border-radius: 3px;
}
.drop.over {
  background: var(--surface-3);
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.said {
  color: var(--sign-stop);
}
.drop :deep(.el-progress) {
  width: 100%;
}
</style>
