<script setup lang="ts">
import { ElButton, ElDialog, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, sentence, take, type SchoolsOut, type SprayAt } from '@/api/client';
import { SCHOOLS } from '@/craft.generated';
import { decimals, length, pressure, speed } from '@/displays/format';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';

/** What each pressure school would set for this coat, for the same film, and what it costs. */
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ use: [name: string, spray: SprayAt] }>();
const store = usePlan();
const settings = useSettings();
const found = shallowRef<SchoolsOut | null>(null);
const problem = ref('');

watch(open, async (now) => {
  if (!now || !store.plan || !store.coat) return;
  found.value = null;
  problem.value = '';
  try {
    const body = { plan: store.plan, step: store.coat.id };
    found.value = await take(api.POST('/api/schools', { body }));
  } catch (error) {
    problem.value = sentence(error);
  }
});
const NAMES = Object.fromEntries(SCHOOLS.pressure.map((s) => [s.id, s.name]));
function setWords(spray: SprayAt): string {
  const unit = settings.values.pressure_unit ?? 'psi';
  return [
    `${decimals(spray.thinner_parts, 2)} : 1`,
    pressure(spray.pressure_psi, unit).first,
    `trigger ${decimals(spray.trigger * 100, 0)} %`,
    length(spray.distance_mm),
    speed(spray.speed_mm_s),
  ]
    .map((words) => words.replaceAll(' ', '\u00a0'))
    .join(' · ');
}
const rows = computed(() =>
  found.value
    ? [found.value.now, ...found.value.schools].map((s) => ({
        ...s,
        name: NAMES[s.school] ?? s.school,
      }))
    : [],
);
function use(name: string, spray: SprayAt): void {
  emit('use', name, spray);
  open.value = false;
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="What other schools would set"
    width="880px"
    append-to-body
    data-test="schools"
  >
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <p v-else-if="!found">Working it out …</p>
    <template v-else>
      <ElTable :data="rows" size="small">
        <ElTableColumn label="School" width="120">
          <template #default="{ row }"
            ><b>{{ row.name }}</b></template
          >
        </ElTableColumn>
        <ElTableColumn label="Setting" min-width="260">
          <template #default="{ row }">
            {{ row.spray ? setWords(row.spray) : row.none }}
          </template>
        </ElTableColumn>
        <ElTableColumn label="Rounds" width="76">
          <template #default="{ row }">{{ row.rounds ?? '–' }}</template>
        </ElTableColumn>
        <ElTableColumn label="Hands" width="86">
          <template #default="{ row }">{{
            row.hands_min ? `${decimals(row.hands_min, 0)} min` : '–'
          }}</template>
        </ElTableColumn>
        <ElTableColumn label="Clean in" width="96">
          <template #default="{ row }">{{
            row.clean_share === null ? '–' : `${Math.round(row.clean_share * 10)} of 10`
          }}</template>
        </ElTableColumn>
        <ElTableColumn label="" width="86">
          <template #default="{ row }">
            <ElButton
              v-if="row.spray && row.school in NAMES"
              size="small"
              @click="use(row.name, row.spray)"
            >
              Use
            </ElButton>
          </template>
        </ElTableColumn>
      </ElTable>
      <p class="small">
        Rounds and hands for the film that is planned now, on all copies; clean in airbrushes like
        yours. “Use” takes the setting; rounds stay as they are planned.
      </p>
    </template>
  </ElDialog>
</template>
