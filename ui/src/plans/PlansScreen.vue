<script setup lang="ts">
import { ElButton, ElInput, ElMessageBox, ElSkeleton } from 'element-plus';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type DamagedPlan,
  type PlanList,
  type PlanSummary,
  type Unreadable,
} from '@/api/client';
import AgainDialog from '@/notebook/AgainDialog.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import FileButton from '@/fields/FileButton.vue';
import FileDialog from './FileDialog.vue';
import PlanStrip from './PlanStrip.vue';
import TurntableDialog from './TurntableDialog.vue';
import StartDay from './StartDay.vue';
import NewPlan from './NewPlan.vue';
import { usePortions } from '@/composables/use-portions';
import { useNews } from '@/composables/use-news';
import { decimals, when } from '@/displays/format';
import TrashDialog from '@/displays/TrashDialog.vue';
import UnreadableRows from '@/displays/UnreadableRows.vue';
import { underWay } from './plan-state';

const router = useRouter();
const shown = ref<PlanSummary | null>(null);
const showing = ref(false);
const plans = ref<PlanSummary[] | null>(null);
const trashed = ref<PlanSummary[]>([]);
const damaged = ref<DamagedPlan[]>([]);
const unused = ref<PlanList['unused_meshes']>({ count: 0, size_bytes: 0 });
const problem = ref('');
const busy = ref(false);
const starting = ref(false);
const several = ref(false);
const showTrash = ref(false);

async function load(): Promise<void> {
  try {
    const found = await take(api.GET('/api/plans'));
    plans.value = found.plans;
    trashed.value = found.trashed;
    damaged.value = found.damaged;
    unused.value = found.unused_meshes;
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
useNews(
  'plan',
  () => void load(),
  () => undefined,
);

async function attempt(work: () => Promise<void>): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    await work();
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}

function openDemo(): Promise<void> {
  return attempt(async () => {
    const demo = await take(api.POST('/api/demo'));
    await router.push({ name: 'plan', params: { id: demo.id, step: 'coats' } });
  });
}
const find = ref('');
type Order = 'changed' | 'name' | 'steps';
const order = ref<Order>('changed');
const ORDERS: { id: Order; label: string; by: (a: PlanSummary, b: PlanSummary) => number }[] = [
  { id: 'changed', label: 'last changed first', by: () => 0 },
  { id: 'name', label: 'by name', by: (a, b) => a.name.localeCompare(b.name) },
  { id: 'steps', label: 'most steps first', by: (a, b) => b.coats - a.coats },
];
const MANY = 4;
/** Groups with their plans: what is under way first, then in the order that is chosen. */
const groups = computed(() => {
  const words = find.value.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (plans.value ?? []).filter((p) => {
    const text = `${p.name} ${p.piece} ${p.school} ${p.group}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  const by = ORDERS.find((o) => o.id === order.value)!.by;
  const sorted = [...fits].sort((a, b) => Number(underWay(b)) - Number(underWay(a)) || by(a, b));
  const found = new Map<string, PlanSummary[]>();
  for (const p of sorted) found.set(p.group ?? '', [...(found.get(p.group ?? '') ?? []), p]);
  return [...found].sort(([a], [b]) => Number(!!a) - Number(!!b) || a.localeCompare(b));
});
const fitting = computed(() => groups.value.reduce((n, [, members]) => n + members.length, 0));
const drawn = usePortions(() => fitting.value);
/** What is drawn of the groups: the first plans of all of them. */
const portions = computed(() => {
  let left = drawn.value;
  return groups.value
    .map(([name, members]) => {
      const here = members.slice(0, left);
      left -= here.length;
      return [name, here] as const;
    })
    .filter(([, here]) => here.length);
});
const known = computed(() => [...new Set((plans.value ?? []).map((p) => p.group).filter(Boolean))]);
const count = computed(() => {
  const all = plans.value?.length ?? 0;
  const begun = (plans.value ?? []).filter(underWay).length;
  if (!all) return '';
  const said = all === 1 ? 'one' : String(all);
  if (!begun) return said;
  return `${said}, ${begun === 1 ? 'one of them' : `${begun} of them`} under way`;
});

const again = ref(false);
const repeated = ref<PlanSummary | null>(null);
function doAgain(plan: PlanSummary): void {
  repeated.value = plan;
  again.value = true;
}
const incoming = ref<File | null>(null);
const taking = ref(false);
function lookAt(file: File): void {
  incoming.value = file;
  taking.value = true;
}
function show(plan: PlanSummary): void {
  shown.value = plan;
  showing.value = true;
}
function duplicate(plan: PlanSummary): Promise<void> {
  return attempt(async () => {
    const path = { path: { plan_id: plan.id } };
    const view = await take(api.GET('/api/plans/{plan_id}', { params: path }));
    await take(api.POST('/api/plans/copy', { body: { plan: view.plan } }));
    await load();
  });
}
async function group(plan: PlanSummary): Promise<void> {
  const others = known.value.length ? ` There are: ${known.value.join(', ')}.` : '';
  const told = await ElMessageBox.prompt(
    `A display, an army, a commission; empty takes it out of its group.${others}`,
    `Group of ${plan.name}`,
    {
      inputValue: plan.group,
      inputValidator: (text) => (text ?? '').length <= 60 || 'At most 60 letters.',
      confirmButtonText: 'Save',
      cancelButtonText: 'Cancel',
    },
  ).catch(() => null);
  if (!told) return;
  const { value } = told as { value: string | null };
  await attempt(async () => {
    await take(
      api.PUT('/api/plans/{plan_id}/group', {
        params: { path: { plan_id: plan.id } },
        body: { group: value ?? '' },
      }),
    );
    await load();
  });
}
function putAway(plan: PlanSummary, away: boolean): Promise<void> {
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/trash', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version, trashed: away },
      }),
    );
    await load();
  });
}
function goodAt(record: Unreadable): string | null {
  return damaged.value.find((plan) => plan.id === record.id)?.good_at ?? null;
}
function mend(record: Unreadable): Promise<void> {
  const plan = damaged.value.find((one) => one.id === record.id)!;
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/mend', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version },
      }),
    );
    await load();
  });
}
function back(id: string): void {
  const plan = trashed.value.find((p) => p.id === id);
  if (plan) void putAway(plan, false);
}
function emptyTrash(): Promise<void> {
  return attempt(async () => {
    await take(api.DELETE('/api/trash'));
    await load();
  });
}
</script>

<template>
  <div class="plans">
    <header>
      <h1>Plans</h1>
      <small v-if="count">{{ count }}</small>
      <span class="push" />
      <ElButton v-if="trashed.length || unused.count" text @click="showTrash = true">
        Trash ({{ trashed.length + unused.count }})
      </ElButton>
      <template v-if="plans?.length">
        <ElButton v-if="plans.length > 1" data-test="several" @click="several = true"
          >Plan a day</ElButton
        >
        <FileButton accept=".haze" label="Import" data-test="file-in" @chosen="lookAt" />
        <ElButton type="primary" @click="starting = true">New plan</ElButton>
      </template>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>

    <UnreadableRows v-slot="{ record }" :records="damaged" @deleted="load">
      <ElButton v-if="goodAt(record)" text :disabled="busy" @click="mend(record)">
        Go back to its last good revision, of {{ when(goodAt(record)!) }}
      </ElButton>
    </UnreadableRows>

    <section v-if="plans && !plans.length && !damaged.length" class="empty">
      <h2>Nothing planned yet</h2>
      <p>
        A plan takes a piece from bare surface to its last coat: where to spray from, how to thin,
        what to set, and what it will look like.
      </p>
      <div>
        <ElButton type="primary" :disabled="busy" @click="openDemo"> Open the demo plan </ElButton>
        <ElButton @click="starting = true"> New plan </ElButton>
        <FileButton accept=".haze" label="Import" @chosen="lookAt" />
      </div>
    </section>

    <template v-else-if="plans">
      <div v-if="plans.length > MANY || find" class="narrow">
        <ElInput
          v-model="find"
          placeholder="Find: plan, piece, group"
          aria-label="Find a plan, a piece or a group"
          maxlength="200"
          clearable
          data-test="find"
        />
        <ChoiceField v-model="order" label="Order" hide-label :choices="ORDERS" />
      </div>
      <p v-if="!groups.length" role="status">
        Nothing fits. <ElButton text @click="find = ''">Show all</ElButton>
      </p>
      <section v-for="[name, members] in portions" :key="name" :aria-label="name || 'Plans'">
        <h2 v-if="name" class="group" data-test="group">{{ name }}</h2>
        <ul class="strips">
          <PlanStrip
            v-for="plan in members"
            :key="plan.id"
            :plan="plan"
            :busy="busy"
            @again="doAgain(plan)"
            @duplicate="duplicate(plan)"
            @group="group(plan)"
            @turntable="show(plan)"
            @away="putAway(plan, true)"
          />
        </ul>
      </section>
      <TurntableDialog v-model="showing" :plan="shown" />
      <div ref="end" />
    </template>
    <ElSkeleton v-else-if="!problem" :rows="6" animated aria-label="Looking for plans" />

    <StartDay v-model="several" :plans="plans ?? []" />
    <NewPlan v-model="starting" />
    <FileDialog v-model="taking" :file="incoming" @taken="load" />
    <AgainDialog
      v-if="repeated"
      v-model="again"
      :plan="repeated.id"
      :name="repeated.name"
      :copies="repeated.copies"
    />
    <TrashDialog
      v-model="showTrash"
      title="Trash"
      :things="trashed.map((p) => ({ id: p.id, name: p.name }))"
      :busy="busy"
      :besides="unused.count > 0"
      warning="Plans in the trash are deleted permanently, with the photos of their painted pieces; so are meshes no plan uses. Sessions stay in the notebook."
      @back="back"
      @empty="emptyTrash"
    >
      <p v-if="unused.count">
        {{ unused.count === 1 ? 'One mesh' : `${unused.count} meshes` }} no plan uses,
        {{ decimals(unused.size_bytes / 2 ** 20, 1) }} MiB
      </p>
    </TrashDialog>
  </div>
</template>

<style scoped>
.plans {
  height: 100%;
  overflow-y: auto;
  padding: 22px 26px;
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  padding-bottom: 16px;
}
h1 {
  font-size: 1.75rem;
}
.push {
  flex: 1;
}
.narrow {
  display: flex;
  gap: 12px;
  max-width: 620px;
  margin-bottom: 12px;
}
.narrow :deep(.choice) {
  flex: none;
  width: 190px;
}
.group {
  margin: 18px 0 8px;
}
.empty {
  display: grid;
  gap: 16px;
  max-width: 560px;
  margin-top: 8vh;
  padding: 28px 32px;
  border-radius: var(--round);
  background: var(--sheet);
}
.empty div {
  display: flex;
  gap: 10px;
}
.strips {
  display: grid;
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
