<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, watch } from 'vue';

import { api, sentence, take, type BulkChange } from '@/api/client';
import { FINISHES, OPACITIES, PAINT_KINDS } from '@/craft.generated';
import ChoiceField from '@/fields/ChoiceField.vue';
import TextField from '@/fields/TextField.vue';
import { asChoices } from '@/fields/choices';

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

const AS_IT_IS = 'as it is';
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
      <TextField v-model="maker" label="Maker" :placeholder="AS_IT_IS" />
      <TextField v-model="range" label="Range" :placeholder="AS_IT_IS" />
      <ChoiceField
        v-model="kind"
        label="Kind"
        :placeholder="AS_IT_IS"
        :choices="asChoices(PAINT_KINDS)"
      />
      <ChoiceField
        v-model="opacity"
        label="Opacity"
        :placeholder="AS_IT_IS"
        :choices="asChoices(OPACITIES)"
      />
      <ChoiceField
        v-model="finish"
        label="Finish"
        :placeholder="AS_IT_IS"
        :choices="asChoices(FINISHES)"
      />
      <TextField v-model="drop" label="Drop size" unit="µl" figures :placeholder="AS_IT_IS" />
      <TextField v-model="left" label="Left" unit="ml" figures :placeholder="AS_IT_IS" />
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <ElButton type="primary" native-type="submit">Change all {{ ids.length }}</ElButton>
    </form>
  </ElDialog>
</template>

<style scoped>
.bulk {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.note,
.el-button {
  grid-column: 1 / -1;
}
</style>
