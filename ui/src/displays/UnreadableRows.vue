<script setup lang="ts">
import { ElButton, ElMessageBox } from 'element-plus';
import { ref } from 'vue';

import { api, sentence, take, type Unreadable } from '@/api/client';

import { when } from './format';

/** Stored records that could not be read: each can be exported as it is stored, or deleted. */
defineProps<{ records: Unreadable[] }>();
const emit = defineEmits<{ deleted: [] }>();
const problem = ref('');
const busy = ref(false);

function exportOf(one: Unreadable): string {
  const query = new URLSearchParams({ kind: one.kind, id: one.id });
  return `/api/unreadable/record.json?${query.toString()}`;
}
async function remove(one: Unreadable): Promise<void> {
  const sure = await ElMessageBox.confirm(
    `${one.name} and all that belongs to it will be deleted permanently. Export it first to keep ` +
      'what is in it.',
    'Delete permanently',
    { confirmButtonText: 'Delete permanently', cancelButtonText: 'Cancel' },
  ).catch(() => null);
  if (!sure) return;
  busy.value = true;
  problem.value = '';
  try {
    await take(
      api.DELETE('/api/unreadable', { params: { query: { kind: one.kind, id: one.id } } }),
    );
    emit('deleted');
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ul
    v-if="records.length"
    class="unreadable"
    aria-label="Could not be read"
    data-test="unreadable"
  >
    <li v-for="one in records" :key="`${one.kind} ${one.id}`">
      <p>
        <b>{{ one.name }}</b> could not be read<template v-if="one.at">
          <small> · stored {{ when(one.at) }}</small></template
        >
      </p>
      <div class="actions">
        <slot :record="one" />
        <ElButton text tag="a" :href="exportOf(one)" download>Export</ElButton>
        <ElButton text :disabled="busy" @click="remove(one)">Delete</ElButton>
      </div>
    </li>
    <li v-if="problem" class="note stop" role="alert">{{ problem }}</li>
  </ul>
</template>

<style scoped>
.unreadable {
  display: grid;
  gap: 8px;
  margin: 0 0 12px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 12px;
  padding: 8px 12px;
  border-radius: var(--round);
  background: var(--well);
}
p {
  min-width: 0;
  margin: 0;
  overflow-wrap: anywhere;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.actions :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
