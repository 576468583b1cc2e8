<script setup lang="ts">
import { ElDialog } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { sentence, takeBytes, type ImportPreview } from '@/api/client';

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
function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  file.value = input.files?.[0] ?? null;
  input.value = '';
  preview.value = null;
  void send(false);
}
const good = computed(() => (preview.value ? preview.value.new + preview.value.changed : 0));
</script>

<template>
  <ElDialog v-model="open" title="Files in and out" width="680px" top="5vh" append-to-body>
    <div class="files" data-test="shelf-files">
      <section>
        <h3>Out</h3>
        <a class="quiet-button" href="/api/shelf/shelf.csv" download>The shelf as a table (CSV)</a>
        <a class="quiet-button" href="/api/shelf/shelf.gpl" download
          >Its colours as a palette (GPL)</a
        >
      </section>
      <section>
        <h3>In</h3>
        <label class="quiet-button"
          >Choose a table or a palette …
          <input type="file" accept=".csv,.txt,.tsv,.gpl" class="visually-hidden" @change="choose"
        /></label>
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
        <div class="lines">
          <table aria-label="What would change">
            <tbody>
              <tr v-for="l in preview.lines.filter((x) => x.what !== 'same')" :key="l.line">
                <td><i :style="{ background: l.masstone }" /></td>
                <td>{{ l.name }}</td>
                <td>{{ l.what }}</td>
                <td class="small">{{ l.fields.join(', ').replaceAll('_', ' ') }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <button
          v-if="!preview.applied"
          class="quiet-button strong"
          type="button"
          :disabled="busy || !good"
          @click="send(true)"
        >
          {{ good ? `Bring ${good} in` : 'Nothing to bring in' }}
        </button>
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
a.quiet-button,
label.quiet-button {
  display: grid;
  place-items: center;
  text-decoration: none;
}
label:focus-within {
  outline: 3px solid var(--strong);
  outline-offset: 2px;
}
.rejected {
  margin: 0;
  padding-left: 18px;
  max-height: 20vh;
  overflow: auto;
}
.lines {
  max-height: 30vh;
  overflow: auto;
}
td {
  padding: 3px 12px 3px 0;
}
i {
  display: block;
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
}
</style>
