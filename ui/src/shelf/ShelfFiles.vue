<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, watch } from 'vue';

import { sentence, takeBytes, type ImportPreview } from '@/api/client';
import FileButton from '@/fields/FileButton.vue';

import ImportLook from './ImportLook.vue';

/** Shelf files: out as a table or a palette, in with a look at what would change. */
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ done: [] }>();
const file = ref<File | null>(null);
const preview = ref<ImportPreview | null>(null);
const problem = ref('');
const busy = ref(false);

watch(open, () => {
  file.value = null;
  preview.value = null;
  problem.value = '';
});
async function send(apply: boolean): Promise<void> {
  if (!file.value) return;
  busy.value = true;
  problem.value = '';
  const where = file.value.name.toLowerCase().endsWith('.gpl') ? 'palette' : 'csv';
  try {
    const bytes = await takeBytes(`/api/shelf/${where}?apply=${apply}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file.value,
    });
    preview.value = JSON.parse(new TextDecoder().decode(bytes)) as ImportPreview;
    if (apply) emit('done');
  } catch (error) {
    preview.value = null;
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
function choose(chosen: File): void {
  file.value = chosen;
  preview.value = null;
  void send(false);
}
</script>

<template>
  <ElDialog v-model="open" title="Import / export" width="680px" top="5vh" append-to-body>
    <div class="files" data-test="shelf-files">
      <section>
        <h3>Out</h3>
        <ElButton tag="a" href="/api/shelf/shelf.csv" download>The shelf as a table (CSV)</ElButton>
        <ElButton tag="a" href="/api/shelf/shelf.gpl" download
          >Its colours as a palette (GPL)</ElButton
        >
      </section>
      <section>
        <h3>In</h3>
        <FileButton
          label="Choose a table or a palette …"
          accept=".csv,.txt,.tsv,.gpl"
          data-test="shelf-file"
          @chosen="choose"
        />
        <p class="small">
          A table needs a first line with the names of its columns; name and colour must be there.
          Nothing is changed before you say so.
        </p>
      </section>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <ImportLook
        v-if="preview"
        :preview="preview"
        :name="file?.name"
        :busy="busy"
        verb="Import"
        @take="send(true)"
      />
    </div>
  </ElDialog>
</template>

<style scoped>
.files {
  display: grid;
  gap: 14px;
}
section {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
section h3 {
  width: 44px;
}
section p {
  flex-basis: 100%;
}
</style>
