<script setup lang="ts">
import { ElButton, ElTable, ElTableColumn } from 'element-plus';
import { computed } from 'vue';

import type { ImportPreview } from '@/api/client';

/** What a file or a list would change on the shelf, and the button that does it. */
const props = defineProps<{ preview: ImportPreview; name?: string; busy: boolean; verb: string }>();
defineEmits<{ take: [] }>();
const changing = computed(() => props.preview.lines.filter((line) => line.what !== 'same'));
const good = computed(() => props.preview.new + props.preview.changed);
const guessed = computed(() => changing.value.filter((line) => line.guessed).length);

function counted(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`;
}
</script>

<template>
  <p class="note" role="status" data-test="preview">
    <template v-if="name">{{ name }}: </template>{{ preview.new }} new,
    {{ preview.changed }} changed, {{ preview.same }} as they are<template
      v-if="preview.rejected.length"
      >, {{ counted(preview.rejected.length, 'line', 'lines') }} not understood</template
    >. {{ preview.applied ? 'Done.' : 'Nothing is changed yet.' }}
    <template v-if="guessed">
      {{ counted(guessed, 'colour is', 'colours are') }} guessed from the name, marked on the shelf
      until you set {{ guessed === 1 ? 'it' : 'them' }}.
    </template>
  </p>
  <ElButton
    v-if="!preview.applied"
    type="primary"
    :disabled="busy || !good"
    data-test="take-in"
    @click="$emit('take')"
  >
    {{ good ? `${verb} ${counted(good, 'paint', 'paints')}` : `Nothing to ${verb.toLowerCase()}` }}
  </ElButton>
  <ul v-if="preview.rejected.length" class="rejected" aria-label="Lines not understood">
    <li v-for="r in preview.rejected" :key="r.line">
      <b class="number">line {{ r.line }}</b> {{ r.reason }}
    </li>
  </ul>
  <ElTable v-if="changing.length" :data="changing" max-height="32vh" aria-label="What would change">
    <ElTableColumn width="48">
      <template #default="{ row }"><i :style="{ background: row.masstone }" /></template>
    </ElTableColumn>
    <ElTableColumn label="paint" prop="name" min-width="160" />
    <ElTableColumn label="is" prop="what" width="90" />
    <ElTableColumn label="fields" min-width="160">
      <template #default="{ row }">{{
        row.guessed ? 'colour from its name' : row.fields.join(', ').replaceAll('_', ' ')
      }}</template>
    </ElTableColumn>
  </ElTable>
</template>

<style scoped>
.rejected {
  margin: 0;
  padding-left: 18px;
  max-height: 20vh;
  overflow: auto;
}
.el-button {
  justify-self: start;
}
i {
  display: block;
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
}
</style>
