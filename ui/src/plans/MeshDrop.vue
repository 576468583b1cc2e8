<script setup lang="ts">
import { ElButton, ElUpload, type UploadFile } from 'element-plus';
import { computed, ref } from 'vue';

import { api, sendMesh, take, type MeshTaken } from '@/api/client';
import { useJob } from '@/composables/use-job';
import WorkBar from '@/displays/WorkBar.vue';

const emit = defineEmits<{ done: [mesh: MeshTaken] }>();
const { job, problem, run, stop } = useJob<MeshTaken>();
/** The share sent, until all of it is; null when nothing is on its way. */
const sent = ref<number | null>(null);
const busy = ref(false);
let sending = new AbortController();

const doing = computed(() => (job.value ? job.value.doing : 'Sending the mesh'));
const done = computed(() => (job.value ? job.value.progress : (sent.value ?? 0)));

async function bring({ raw }: UploadFile): Promise<void> {
  if (!raw || busy.value) return;
  busy.value = true;
  sending = new AbortController();
  const mesh = await run(
    () => sendMesh(raw, (share) => (sent.value = share), sending.signal),
    (id) => take(api.GET('/api/meshes/taken/{job_id}', { params: { path: { job_id: id } } })),
  );
  busy.value = false;
  sent.value = null;
  if (mesh) emit('done', mesh);
}
function cancel(): void {
  sending.abort();
  stop();
}
</script>

<template>
  <div class="drop">
    <ElUpload
      v-if="!busy"
      drag
      action=""
      accept=".stl,.obj,.ply,.glb"
      :auto-upload="false"
      :show-file-list="false"
      :on-change="bring"
      data-test="mesh-file"
    >
      <p>Drop a mesh here, or press to choose a file.</p>
      <p class="small">STL, OBJ, PLY or GLB, up to 160 MiB</p>
    </ElUpload>
    <div v-else class="working">
      <p role="status">{{ doing }}</p>
      <WorkBar :share="done" :doing="doing" />
      <ElButton size="small" @click="cancel">Stop</ElButton>
    </div>
    <p v-if="problem" class="said" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 10px;
}
.drop :deep(.el-upload-dragger) {
  padding: 18px;
  border: 1.5px dashed var(--edge);
  border-radius: 8px;
  background: none;
  color: var(--ink);
}
.drop :deep(.el-upload-dragger.is-dragover) {
  background: var(--well-2);
}
.working {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.working .el-progress {
  width: 100%;
}
.said {
  color: var(--sign-stop);
}
</style>
