<script setup lang="ts">
import { useDropZone } from '@vueuse/core';
import { ElButton, ElProgress } from 'element-plus';
import { computed, ref } from 'vue';

import { api, sendMesh, take, type MeshView } from '@/api/client';
import { useJob } from '@/composables/use-job';

const emit = defineEmits<{ done: [mesh: MeshView] }>();
const { job, problem, run, stop } = useJob<MeshView>();
/** The share sent, until all of it is; null when nothing is on its way. */
const sent = ref<number | null>(null);
const busy = ref(false);
const input = ref<HTMLInputElement>();
const zone = ref<HTMLElement>();
const { isOverDropZone: over } = useDropZone(zone, { onDrop: (files) => void bring(files?.[0]) });
let sending = new AbortController();

const doing = computed(() => (job.value ? job.value.doing : 'Sending the mesh'));
const done = computed(() => (job.value ? job.value.progress : (sent.value ?? 0)));

async function bring(file: File | undefined): Promise<void> {
  if (!file || busy.value) return;
  busy.value = true;
  sending = new AbortController();
  const mesh = await run(
    () => sendMesh(file, (share) => (sent.value = share), sending.signal),
    (id) => take(api.GET('/api/meshes/taken/{job_id}', { params: { path: { job_id: id } } })),
  );
  busy.value = false;
  sent.value = null;
  if (input.value) input.value.value = '';
  if (mesh) emit('done', mesh);
}
function cancel(): void {
  sending.abort();
  stop();
}
</script>

<template>
  <div ref="zone" class="drop" :class="{ over }">
    <template v-if="!busy">
      <p>Drop a mesh here: STL, OBJ, PLY or GLB, up to 160 MiB.</p>
      <span class="ways">
        <button class="quiet-button" type="button" @click="input?.click()">Choose a file</button>
      </span>
    </template>
    <template v-else>
      <p role="status">{{ doing }}</p>
      <ElProgress :percentage="Math.round(done * 100)" :stroke-width="10" />
      <ElButton size="small" @click="cancel">Stop</ElButton>
    </template>
    <input
      ref="input"
      type="file"
      accept=".stl,.obj,.ply,.glb"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Mesh file"
      data-test="mesh-file"
      @change="bring(($event.target as HTMLInputElement).files?.[0])"
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
