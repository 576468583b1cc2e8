<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core';
import { ElButton } from 'element-plus';
import { onMounted, ref, shallowRef } from 'vue';

import { api, sentence, take, type CheckOut, type DataView, type Unreadable } from '@/api/client';
import { decimals, when } from '@/displays/format';
import UnreadableRows from '@/displays/UnreadableRows.vue';

/** Where data lies and how large it is; backup, check, and the notebook as files. */
const data = shallowRef<DataView | null>(null);
const found = shallowRef<CheckOut | null>(null);
const unreadable = shallowRef<Unreadable[]>([]);
const problem = ref('');
const busy = ref(false);

async function load(): Promise<void> {
  try {
    data.value = await take(api.GET('/api/data'));
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
function mib(bytes: number): string {
  return `${decimals(bytes / 2 ** 20, 1)} MiB`;
}
async function check(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    found.value = await take(api.POST('/api/data/check'));
    unreadable.value = (await take(api.GET('/api/unreadable'))).records;
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
/** The download begins with the click and takes as long as it takes: ask until it is noted. */
const ASK_EACH_MS = 1500;
const ASK_FOR_MS = 120_000;
const backingUp = ref<string | null>(null);
let asking = 0;
const { pause, resume } = useIntervalFn(
  async () => {
    asking += 1;
    await load();
    if (data.value?.backed_up_at !== backingUp.value || asking * ASK_EACH_MS > ASK_FOR_MS) pause();
  },
  ASK_EACH_MS,
  { immediate: false },
);
function backedUp(): void {
  backingUp.value = data.value?.backed_up_at ?? null;
  asking = 0;
  resume();
}
</script>

<template>
  <section class="data" aria-label="Your data" data-test="data">
    <h3>Your data</h3>
    <template v-if="data">
      <p class="small">
        Everything lies in <span class="mono folder">{{ data.folder }}</span>: the database
        {{ mib(data.database_bytes) }}, of it {{ data.photos }}
        {{ data.photos === 1 ? 'photo' : 'photos' }} with {{ mib(data.photo_bytes) }}; what can be
        worked out again {{ mib(data.cache_bytes) }}. The folder may be moved or renamed while Haze
        is not running.
      </p>
      <p class="small" :class="{ due: data.remind }">
        {{
          data.backed_up_at ? `Last backup ${when(data.backed_up_at)}.` : 'Never backed up so far.'
        }}
        <template v-if="data.remind">It is more than a month ago.</template>
      </p>
      <div class="actions">
        <ElButton tag="a" href="/api/backup" download data-test="backup" @click="backedUp"
          >Back up now</ElButton
        >
        <ElButton :loading="busy" data-test="check" @click="check">Check everything</ElButton>
        <ElButton tag="a" href="/api/notebook/notebook.haze" download>Export everything</ElButton>
        <ElButton tag="a" href="/api/notebook/sessions.csv" download>Sessions, CSV</ElButton>
        <ElButton tag="a" href="/api/notebook/trials.csv" download>Trials, CSV</ElButton>
        <ElButton tag="a" href="/api/notebook/notebook.json" download>All, JSON</ElButton>
      </div>
    </template>
    <p v-if="found" class="note" role="status" data-test="checked">
      <template v-if="found.ok"
        >All is well: {{ found.plans }} plans in {{ found.revisions }} revisions,
        {{ found.meshes }} meshes, {{ found.sessions }} sessions, {{ found.trials }} trials,
        {{ found.photos }} photos.</template
      >
      <template v-else>{{ found.faults.join(' ') }}</template>
    </p>
    <UnreadableRows :records="unreadable" @deleted="check" />
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.data {
  display: grid;
  gap: 8px;
  padding: 14px 0;
  border-top: 1px solid var(--hair);
}
.folder {
  overflow-wrap: anywhere;
}
.due {
  color: var(--sign-stop);
  font-weight: 640;
}
.actions :deep(.el-button) {
  margin: 0;
  text-decoration: none;
}
</style>
