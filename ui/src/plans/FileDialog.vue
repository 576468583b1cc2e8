<script setup lang="ts">
import { ElButton, ElDialog, ElRadioButton, ElRadioGroup } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, sentence, sendFile, take, type FileLook, type TakenIn } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, when } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';

/** A file is looked over first: what it would add, which paints are the painter's own; then taken in. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ file: File | null }>();
const emit = defineEmits<{ taken: [plan: string | null] }>();
const { job, problem, run, stop } = useJob<TakenIn>();
const look = shallowRef<FileLook | null>(null);
const trouble = ref('');
const reading = ref(false);
type Choice = 'mine' | 'add';
const choices = ref<Record<string, Choice>>({});
const STATES = {
  new: 'new',
  same: 'here already, stays as it is',
  other: 'here and changed: comes in as a copy',
};

watch(open, async (now) => {
  if (!now) {
    stop();
    void forget();
    return;
  }
  look.value = null;
  trouble.value = '';
  choices.value = {};
  if (!props.file) return;
  reading.value = true;
  try {
    look.value = await sendFile(props.file);
  } catch (error) {
    trouble.value = sentence(error);
  } finally {
    reading.value = false;
  }
});
async function forget(): Promise<void> {
  const token = look.value?.token;
  look.value = null;
  if (token)
    await take(api.DELETE('/api/files/{token}', { params: { path: { token } } })).catch(() => null);
}
const coming = computed(() => look.value?.paints ?? []);
/** Paints that are like one of the painter's own; they are chosen between. */
const alike = computed(() => coming.value.filter((p) => p.mine && !p.same));
const same = computed(() => coming.value.filter((p) => p.same).length);
const fresh = computed(() => coming.value.filter((p) => !p.mine).length);
const nothing = computed(() => {
  const l = look.value;
  return (
    !!l &&
    l.plans.every((p) => p.state === 'same') &&
    !fresh.value &&
    !l.trials_new &&
    !l.sessions_new &&
    !l.cards_new &&
    !l.photos_new &&
    !l.practice_new &&
    !alike.value.some((p) => choices.value[p.id] === 'add')
  );
});
function counted(count: number, one: string, many: string): string {
  if (!count) return `no ${many}`;
  return count === 1 ? `one ${one}` : `${count} ${many}`;
}
const more = computed(() => {
  const l = look.value;
  if (!l) return [];
  return [
    `${counted(fresh.value, 'paint', 'paints')} new on the shelf, ${same.value} as they stand there`,
    `${counted(l.trials_new, 'trial', 'trials')} new, ${l.trials_known} known`,
    `${counted(l.sessions_new, 'session', 'sessions')} new, ${l.sessions_known} known`,
    `${counted(l.photos_new, 'photo', 'photos')} new`,
    `${counted(l.cards_new, 'printed card', 'printed cards')} new`,
    ...(l.practice_new ? [`${counted(l.practice_new, 'answer', 'answers')} of practice new`] : []),
  ];
});
async function takeIn(): Promise<void> {
  const l = look.value;
  if (!l) return;
  const done = await run(
    () => take(api.POST('/api/files/take', { body: { token: l.token, paints: choices.value } })),
    (id) => take(api.GET('/api/files/taken/{job_id}', { params: { path: { job_id: id } } })),
  );
  if (!done) return;
  look.value = null;
  open.value = false;
  emit('taken', done.plan ?? null);
}
</script>

<template>
  <ElDialog v-model="open" title="Import" width="min(640px, 94vw)" top="6vh" append-to-body>
    <p v-if="reading" role="status">Looking at {{ file?.name }} …</p>
    <p v-if="trouble || problem" class="note stop" role="alert">{{ trouble || problem }}</p>
    <div v-if="look" class="look" data-test="file-look">
      <p class="small">
        {{ file?.name }}, {{ decimals(look.size_bytes / 2 ** 20, 1) }} MiB, of
        {{ when(look.made_at) }}. Nothing that is here is overwritten.
      </p>
      <section v-if="look.plans.length" aria-label="Plans">
        <h3>Plans</h3>
        <ul>
          <li v-for="p in look.plans" :key="p.id">
            <b>{{ p.name }}</b>
            <small>{{ p.copies }} × {{ p.piece }}, {{ p.coats }} steps</small>
            <span class="state">{{ STATES[p.state] }}</span>
          </li>
        </ul>
      </section>
      <section v-if="alike.length" aria-label="Paints that are like yours">
        <h3>Paints that are like yours</h3>
        <ul>
          <li v-for="p in alike" :key="p.id">
            <i class="chip" :style="{ background: p.masstone }" /> {{ p.name }}
            <small>in the file</small>
            <i class="chip" :style="{ background: p.mine_masstone ?? undefined }" />
            <small>yours: {{ p.mine_name }}</small>
            <ElRadioGroup
              :model-value="choices[p.id] ?? 'mine'"
              size="small"
              class="state"
              :aria-label="`What becomes of ${p.name}`"
              @update:model-value="(v) => (choices[p.id] = v as Choice)"
            >
              <ElRadioButton value="mine">take mine</ElRadioButton>
              <ElRadioButton value="add">add it beside</ElRadioButton>
            </ElRadioGroup>
          </li>
        </ul>
      </section>
      <ul class="more">
        <li v-for="words in more" :key="words">{{ words }}</li>
      </ul>
    </div>
    <div v-if="job" class="busy">
      <WorkBar :share="job.progress" :doing="job.doing" />
      <span class="small">{{ job.doing }}</span>
      <ElButton size="small" @click="stop">Stop</ElButton>
    </div>
    <template #footer>
      <ElButton @click="open = false">{{ nothing ? 'Close' : 'Cancel' }}</ElButton>
      <ElButton
        v-if="look && !nothing"
        type="primary"
        :loading="!!job"
        data-test="take-in"
        @click="takeIn"
        >Import</ElButton
      >
      <span v-else-if="nothing" class="small all">All of it is here already.</span>
    </template>
  </ElDialog>
</template>

<style scoped>
.look {
  display: grid;
  gap: 14px;
  max-height: 56vh;
  overflow-y: auto;
}
section {
  display: grid;
  gap: 4px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  min-height: 40px;
  border-bottom: 1px solid var(--hair);
  overflow-wrap: anywhere;
}
.more li {
  min-height: 28px;
  border: 0;
}
.state {
  margin-left: auto;
}
.chip {
  flex: none;
  width: 22px;
  height: 22px;
  border-radius: 5px;
  box-shadow: inset 0 0 0 1px rgb(0 0 0 / 20%);
}
.busy {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) auto auto;
  gap: 12px;
  align-items: center;
  margin-top: 12px;
}
.all {
  margin-left: 12px;
}
</style>
