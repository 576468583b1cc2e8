<script setup lang="ts">
import { ElDialog, ElInput, type InputInstance } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, sentence, take, type ImportPreview } from '@/api/client';
import { useLatest } from '@/composables/use-latest';
import { PAINT_KINDS } from '@/craft.generated';
import ChoiceField from '@/fields/ChoiceField.vue';
import TextField from '@/fields/TextField.vue';
import { asChoices } from '@/fields/choices';

import ImportLook from './ImportLook.vue';
import { useUsual } from './blank-paint';

/** Many paints at once: a list as it stands in somebody's notes, looked at while it is typed. */
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ done: [] }>();
const usual = useUsual();
const text = ref('');
const box = ref<InputInstance>();
const preview = shallowRef<ImportPreview | null>(null);
const problem = ref('');
const busy = ref(false);
const MOST_LETTERS = 400_000;

const body = computed(() => ({
  text: text.value,
  maker: usual.value.maker,
  kind: usual.value.kind,
  apply: false,
}));
const looking = useLatest<typeof body.value>(
  async (asked) => {
    preview.value = await take(api.POST('/api/shelf/list', { body: asked }));
    problem.value = '';
  },
  (error) => (problem.value = sentence(error)),
);
watch(body, (now) => {
  problem.value = '';
  if (now.text.trim()) looking.push(now);
  else preview.value = null;
});
watch(open, (now) => {
  if (!now) return;
  text.value = '';
  preview.value = null;
});
async function add(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    await take(api.POST('/api/shelf/list', { body: { ...body.value, apply: true } }));
    emit('done');
    open.value = false;
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="Paste a list of paints"
    width="680px"
    top="5vh"
    append-to-body
    @opened="box?.focus()"
  >
    <div class="paste" data-test="paste">
      <p class="small">
        One paint a line, its name first. After it, in any order and parted by commas or tabs: a
        colour as #rrggbb, the maker, a kind, an opacity, a finish, what is left (“17 ml”). A table
        whose first line names its columns may be pasted too.
      </p>
      <ElInput
        ref="box"
        v-model="text"
        type="textarea"
        :rows="6"
        :maxlength="MOST_LETTERS"
        aria-label="Paints, one a line"
        placeholder="Wrack Green, #4b5a35&#10;Dark rust&#10;Quay Matt Varnish, 60 ml"
      />
      <div class="usual">
        <TextField v-model="usual.maker!" label="Maker, where a line names none" />
        <ChoiceField
          v-model="usual.kind"
          label="Kind, where a line names none"
          :choices="asChoices(PAINT_KINDS)"
        />
      </div>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <ImportLook v-if="preview" :preview="preview" :busy="busy" verb="Add" @take="add" />
    </div>
  </ElDialog>
</template>

<style scoped>
.paste {
  display: grid;
  gap: 12px;
}
.usual {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 12px;
}
</style>
