<script setup lang="ts">
import { ElDialog } from 'element-plus';
import { ref, watch } from 'vue';

import { api, sentence, take, type BulkChange } from '@/api/client';
import { FINISHES, OPACITIES, PAINT_KINDS } from '@/craft.generated';

/** The same change to every chosen paint; what is left alone stays as it is. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ ids: string[] }>();
const emit = defineEmits<{ done: [] }>();
const maker = ref('');
const range = ref('');
const kind = ref('');
const opacity = ref('');
const finish = ref('');
const drop = ref('');
const left = ref('');
const problem = ref('');

watch(open, () => {
  for (const field of [maker, range, kind, opacity, finish, drop, left]) field.value = '';
  problem.value = '';
});
function number(text: string): number | null {
  const value = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
}
async function change(): Promise<void> {
  problem.value = '';
  const body = {
    ids: props.ids,
    maker: maker.value || null,
    range: range.value || null,
    kind: kind.value || null,
    opacity: opacity.value || null,
    finish: finish.value || null,
    drop_ul: number(drop.value),
    ml_left: number(left.value),
  } as BulkChange;
  try {
    await take(api.POST('/api/shelf/bulk', { body }));
    emit('done');
    open.value = false;
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <ElDialog
    v-model="open"
    :title="`Change ${ids.length} paints alike`"
    width="460px"
    append-to-body
  >
    <form class="bulk" data-test="bulk-edit" @submit.prevent="change">
      <label
        ><span class="small">Maker</span><input v-model="maker" class="text" placeholder="as it is"
      /></label>
      <label
        ><span class="small">Range</span><input v-model="range" class="text" placeholder="as it is"
      /></label>
      <label
        ><span class="small">Kind</span
        ><select v-model="kind">
          <option value="">as it is</option>
          <option v-for="(label, id) in PAINT_KINDS" :key="id" :value="id">{{ label }}</option>
        </select></label
      >
      <label
        ><span class="small">Opacity</span
        ><select v-model="opacity">
          <option value="">as it is</option>
          <option v-for="(label, id) in OPACITIES" :key="id" :value="id">{{ label }}</option>
        </select></label
      >
      <label
        ><span class="small">Finish</span
        ><select v-model="finish">
          <option value="">as it is</option>
          <option v-for="(label, id) in FINISHES" :key="id" :value="id">{{ label }}</option>
        </select></label
      >
      <label
        ><span class="small">Drop size, µl</span
        ><input v-model="drop" class="text" inputmode="decimal" placeholder="as it is"
      /></label>
      <label
        ><span class="small">Left, ml</span
        ><input v-model="left" class="text" inputmode="decimal" placeholder="as it is"
      /></label>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <button class="quiet-button strong" type="submit">Change all {{ ids.length }}</button>
    </form>
  </ElDialog>
</template>

<style scoped>
.bulk {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
label {
  display: grid;
  gap: 2px;
}
.note,
.strong {
  grid-column: 1 / -1;
}
</style>
