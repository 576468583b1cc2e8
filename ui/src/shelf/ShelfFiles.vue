<script setup lang="ts">
import { ElButton, ElDialog, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { sentence, takeBytes, type ImportPreview } from '@/api/client';
import FileButton from '@/fields/FileButton.vue';

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
const changing = computed(() => preview.value?.lines.filter((l) => l.what !== 'same') ?? []);
const good = computed(() => (preview.value ? preview.value.new + preview.value.changed : 0));
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
      <template v-if="preview">
        <p class="note" role="status" data-test="preview">
          {{ file?.name }}: {{ preview.new }} new, {{ preview.changed }} changed,
          {{ preview.same }} as they are<template v-if="preview.rejected.length"
            >, {{ preview.rejected.length }}
            {{ preview.rejected.length === 1 ? 'line' : 'lines' }} not understood</template
          >. {{ preview.applied ? 'Done.' : 'Nothing is changed yet.' }}
        </p>
        <ul v-if="preview.rejected.length" class="rejected" aria-label="Lines not understood">
          <li v-for="r in preview.rejected" :key="r.line">
            <b class="number">line {{ r.line }}</b> {{ r.reason }}
          </li>
        </ul>
        <ElTable
          v-if="changing.length"
          :data="changing"
          max-height="30vh"
          aria-label="What would change"
        >
          <ElTableColumn width="48">
            <template #default="{ row }"><i :style="{ background: row.masstone }" /></template>
          </ElTableColumn>
          <ElTableColumn label="paint" prop="name" min-width="160" />
          <ElTableColumn label="is" prop="what" width="90" />
          <ElTableColumn label="fields" min-width="160">
            <template #default="{ row }">{{ row.fields.join(', ').replaceAll('_', ' ') }}</template>
          </ElTableColumn>
        </ElTable>
        <ElButton
          v-if="!preview.applied"
          type="primary"
          :disabled="busy || !good"
          @click="send(true)"
        >
          {{ good ? `Import ${good}` : 'Nothing to import' }}
        </ElButton>
      </template>
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
.rejected {
  margin: 0;
  padding-left: 18px;
  max-height: 20vh;
  overflow: auto;
}
i {
  display: block;
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
}
</style>
