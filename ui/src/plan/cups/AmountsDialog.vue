<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, sentence, take, type AmountsOut, type PlanSummary } from '@/api/client';
import { decimals } from '@/displays/format';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

/** What this plan, or all of today, takes from each bottle; what to buy; counted off when done. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();
const shelf = useShelf();
const found = shallowRef<AmountsOut | null>(null);
const plans = ref<PlanSummary[]>([]);
const others = ref<string[]>([]);
const problem = ref('');
const done = ref('');

watch(open, async (now) => {
  if (!now) return;
  others.value = [];
  done.value = '';
  void look();
  const listed = await take(api.GET('/api/plans')).catch(() => null);
  plans.value = (listed?.plans ?? []).filter((p) => p.id !== store.id && p.pictured);
});
watch(others, () => void look());
async function look(): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  const asked = [...others.value];
  try {
    const answer = await take(api.POST('/api/amounts', { body: { plan, others: asked } }));
    if (asked.join() !== others.value.join()) return;
    found.value = answer;
    problem.value = '';
  } catch (error) {
    problem.value = sentence(error);
  }
}
function choose(id: string, on: boolean): void {
  others.value = on ? [...others.value, id] : others.value.filter((one) => one !== id);
}
function ml(value: number | null): string {
  return value === null ? 'not counted' : `${decimals(value, 1)} ml`;
}
const shopping = computed(() => found.value?.rows.filter((r) => r.short_ml > 0) ?? []);
const counted = computed(() => found.value?.rows.filter((r) => r.left_ml !== null) ?? []);
async function useUp(): Promise<void> {
  const used = counted.value.map((r) => ({ id: r.id, ml: r.ml }));
  const names = plans.value.filter((p) => others.value.includes(p.id)).map((p) => p.name);
  const what = [store.plan!.name, ...names].join(', ').slice(0, 120);
  try {
    const told = await take(api.POST('/api/amounts/used', { body: { what, used } }));
    done.value = `${told.counted} bottles counted down. The shelf can undo it.`;
    await shelf.reload();
    await look();
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="Amounts and shopping"
    width="720px"
    append-to-body
    data-test="amounts-dialog"
  >
    <div class="all">
      <section v-if="plans.length" aria-label="Today also">
        <h3>Today also</h3>
        <ElCheckbox
          v-for="p in plans"
          :key="p.id"
          :model-value="others.includes(p.id)"
          @update:model-value="(on) => choose(p.id, !!on)"
        >
          {{ p.name }}
        </ElCheckbox>
      </section>
      <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
      <template v-if="found">
        <ElTable :data="found.rows" size="small" max-height="340">
          <ElTableColumn label="Bottle" min-width="190">
            <template #default="{ row }">
              <span class="bottle">
                <i :style="{ background: row.colour ?? 'transparent' }" />
                {{ row.what }}
              </span>
            </template>
          </ElTableColumn>
          <ElTableColumn label="Needed" width="92">
            <template #default="{ row }"
              ><b>{{ ml(row.ml) }}</b></template
            >
          </ElTableColumn>
          <ElTableColumn label="Cups" width="64" prop="cups" />
          <ElTableColumn label="In the bottle" width="112">
            <template #default="{ row }">{{ ml(row.left_ml) }}</template>
          </ElTableColumn>
          <ElTableColumn label="Left then" width="112">
            <template #default="{ row }">{{
              row.left_ml === null ? '–' : ml(row.after_ml)
            }}</template>
          </ElTableColumn>
        </ElTable>
        <section class="note" aria-label="To buy" data-test="shopping">
          <b>To buy: </b>
          <template v-if="shopping.length">{{
            shopping.map((r) => `${r.what}, ${decimals(r.short_ml, 1)} ml`).join('; ')
          }}</template>
          <template v-else>nothing of what is counted on the shelf.</template>
        </section>
        <footer>
          <span role="status">{{ done }}</span>
          <ElButton :disabled="!counted.length" data-test="use-up" @click="useUp">
            Session done: count it off the shelf
          </ElButton>
        </footer>
      </template>
    </div>
  </ElDialog>
</template>

<style scoped>
.all {
  display: grid;
  gap: 12px;
}
.all > section:first-child {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
}
.bottle {
  display: flex;
  align-items: center;
  gap: 8px;
}
i {
  flex: none;
  width: 18px;
  height: 18px;
  border: 1px solid var(--outline);
  border-radius: 4px;
}
footer {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
}
</style>
