<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, watch } from 'vue';

import { api, take, type PlanSummary, type ShownOut } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';

/** The piece coming up coat by coat while it turns, as a file to be shown at the club. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ plan: PlanSummary | null }>();
const { job, problem, run, stop } = useJob<ShownOut>();
const found = ref<ShownOut | null>(null);

const FORMS = [
  { form: 'webp', label: 'Animated WebP', more: 'small, in full colour; browsers and most chats' },
  { form: 'gif', label: 'Animated GIF', more: 'plays anywhere, smaller and in fewer colours' },
  { form: 'zip', label: 'Stills', more: 'a picture after each coat, PNG in a zip' },
] as const;

watch(open, (now) => {
  found.value = null;
  problem.value = '';
  if (!now) stop();
});
function file(form: string): string {
  return `/api/plans/${props.plan?.id}/shown.${form}?v=${props.plan?.version}`;
}
async function make(form: ShownOut['form']): Promise<void> {
  const plan = props.plan;
  if (!plan) return;
  found.value = null;
  found.value = await run(
    () =>
      take(
        api.POST('/api/plans/{plan_id}/shown', {
          params: { path: { plan_id: plan.id } },
          body: { form },
        }),
      ),
    (id) => take(api.GET('/api/shown/{job_id}', { params: { path: { job_id: id } } })),
  );
}
</script>

<template>
  <ElDialog
    v-model="open"
    :title="`Turntable: ${plan?.name}`"
    width="620px"
    top="6vh"
    append-to-body
  >
    <div class="turntable" data-test="turntable">
      <p>
        The piece turns while it comes up coat by coat, a line under it names each coat; at the end
        it goes once round, finished.
      </p>
      <ul>
        <li v-for="f in FORMS" :key="f.form">
          <ElButton :disabled="!!job" :data-test="`make-${f.form}`" @click="make(f.form)">{{
            f.label
          }}</ElButton>
          <small>{{ f.more }}</small>
        </li>
      </ul>
      <div v-if="job" class="work" role="status">
        <span>{{ job.doing }}</span>
        <WorkBar :share="job.progress" :doing="job.doing" />
        <ElButton text @click="stop()">Stop</ElButton>
      </div>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <div v-if="found" class="made" data-test="made">
        <p>
          {{ found.pictures }} pictures, {{ decimals(found.bytes / 1e6, 1) }} MB.
          <ElButton tag="a" type="primary" :href="file(found.form)" download
            >Save the file</ElButton
          >
        </p>
        <img
          v-if="found.form !== 'zip'"
          :src="file(found.form)"
          :alt="`${plan?.name}, turning while it is painted`"
        />
      </div>
    </div>
  </ElDialog>
</template>

<style scoped>
.turntable {
  display: grid;
  gap: 14px;
}
ul {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
li .el-button {
  min-width: 150px;
}
.work {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: 12px;
}
.made {
  display: grid;
  gap: 10px;
  justify-items: center;
}
.made img {
  max-width: 100%;
  height: 360px;
}
</style>
