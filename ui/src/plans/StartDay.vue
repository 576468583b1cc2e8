<script setup lang="ts">
import { ElButton, ElCheckbox, ElCheckboxGroup, ElDialog } from 'element-plus';
import { ref, watch } from 'vue';
import { useRouter } from 'vue-router';

import { api, sentence, take, type PlanSummary } from '@/api/client';
import { dateFromNow } from '@/displays/format';
import { placeOf } from '@/router';

/** A day of several plans: which, and then on to its strands. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ plans: PlanSummary[] }>();
const router = useRouter();
const MOST = 12;
const chosen = ref<string[]>([]);
const problem = ref('');
const busy = ref(false);

watch(open, (now) => {
  if (!now) return;
  chosen.value = props.plans.slice(0, MOST).map((p) => p.id);
  problem.value = '';
});
async function start(): Promise<void> {
  const [first] = chosen.value;
  if (!first) return;
  busy.value = true;
  problem.value = '';
  try {
    const day = await take(
      api.GET('/api/plans/{plan_id}/day', {
        params: { path: { plan_id: first }, query: { today: dateFromNow() } },
      }),
    );
    const doc = { ...day.doc, plans: chosen.value };
    await take(
      api.PUT('/api/days/{day_id}', {
        params: { path: { day_id: day.id } },
        body: { version: day.version, doc },
      }),
    );
    await router.push(placeOf(first, 'day'));
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog v-model="open" title="Plan a day" width="460px" append-to-body>
    <ElCheckboxGroup v-model="chosen" :max="MOST" class="plans" aria-label="Plans of this day">
      <ElCheckbox v-for="p in plans" :key="p.id" :value="p.id">
        {{ p.name }} <small>{{ p.copies }} × {{ p.piece }}</small>
      </ElCheckbox>
    </ElCheckboxGroup>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton
        type="primary"
        :disabled="!chosen.length"
        :loading="busy"
        data-test="start-day"
        @click="start"
        >Plan this day</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
.plans {
  display: grid;
  gap: 6px;
}
.plans :deep(.el-checkbox) {
  height: auto;
  min-height: var(--control);
  white-space: normal;
}
</style>
