<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed, onBeforeUnmount, ref, watch } from 'vue';

import {
  api,
  sentence,
  take,
  takePicture,
  type JobView,
  type OrdersOut,
  type Schools,
  type StartedOut,
  preparing,
} from '@/api/client';
import AddToShelf from '@/displays/AddToShelf.vue';
import { FRESH, SCHOOLS } from '@/craft.generated';
import { followJob, stopJob } from '@/api/follow-job';
import PictureCard from '@/displays/PictureCard.vue';
import { decimals, duration, issues } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import { usePlan } from '@/stores/plan';

import { asking, AS_PLANNED, freshAnswers, litBy } from './answers';
import LandedChips from './LandedChips.vue';
import OrdersTable from './OrdersTable.vue';
import SchemeAnswers from './SchemeAnswers.vue';
import ChoiceField from '@/fields/ChoiceField.vue';

/** A whole sequence from a few answers; two schools of it stand side by side on the piece. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();

const answers = ref(freshAnswers(AS_PLANNED));
const orders = ref<OrdersOut | null>(null);
watch(answers, () => (orders.value = null));

type Row = 'order' | 'ground' | 'pressure' | 'cup';
const ROWS: { id: Row; label: string }[] = [
  { id: 'order', label: 'Order' },
  { id: 'ground', label: 'Ground' },
  { id: 'pressure', label: 'Pressure' },
  { id: 'cup', label: 'Cup' },
];
interface Column {
  schools: Schools;
  picture: Blob | null;
  found: StartedOut | null;
  problem: string;
  busy: boolean;
  job: JobView | null;
}
const columns = ref<Column[]>(
  ['climb', 'veil'].map((order) => ({
    schools: { ...FRESH.schools, order: order as Schools['order'] },
    picture: null,
    found: null,
    problem: '',
    busy: false,
    job: null,
  })),
);
let turn = new AbortController();

watch(open, async (now) => {
  turn.abort();
  if (!now) return;
  turn = new AbortController();
  const mine = store.plan?.schools;
  if (mine) columns.value[0]!.schools = { ...mine };
  if (store.plan) {
    // settings and fields every sequence needs are found while the painter answers; without them
    // it only takes longer
    api.POST('/api/start/ahead', { body: { plan: store.plan } }).catch(() => undefined);
  }
  if (store.plan && store.plan.piece.groundwork !== 'none') {
    answers.value = { ...answers.value, what: 'terrain' };
  }
});
async function fill(column: Column): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  const { signal } = turn;
  column.busy = true;
  column.problem = '';
  try {
    const lit = await litBy(plan, answers.value.light);
    const body = asking(lit, answers.value, column.schools);
    const job = await take(api.POST('/api/start', { body }));
    const done = await followJob(job, (view) => (column.job = view), signal);
    if (!done) return stopJob(job.id);
    const found = await take(
      api.GET('/api/start/{job_id}', { params: { path: { job_id: job.id } } }),
    );
    const picture = await takePicture('/api/picture', { plan: found.plan });
    if (signal.aborted) return;
    column.picture = picture;
    column.found = found;
  } catch (error) {
    if (!signal.aborted) column.problem = sentence(error);
  } finally {
    column.busy = false;
    column.job = null;
  }
}

/** What a column waits for: its own work, or the piece that has to be worked out first. */
const workOf = (c: Column): JobView | null => c.job ?? (c.busy ? preparing.value : null);

/** The column that lands nearer to the asked colour, when both are there and one is. */
const nearer = computed(() => {
  const [one, two] = columns.value.map((c) => c.found?.lands.delta_e ?? null);
  if (one == null || two == null || Math.abs(one - two) < 0.5) return -1;
  return one < two ? 0 : 1;
});
async function lay(): Promise<void> {
  for (const column of columns.value) await fill(column);
}
const ordersJob = ref<JobView | null>(null);
const ordersProblem = ref('');
async function tryOrders(): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  const { signal } = turn;
  orders.value = null;
  ordersProblem.value = '';
  try {
    const lit = await litBy(plan, answers.value.light);
    const body = asking(lit, answers.value, columns.value[0]!.schools);
    const job = await take(api.POST('/api/start/orders', { body }));
    ordersJob.value = job;
    const done = await followJob(job, (view) => (ordersJob.value = view), signal);
    if (!done) return stopJob(job.id);
    const found = await take(
      api.GET('/api/start/orders/{job_id}', { params: { path: { job_id: job.id } } }),
    );
    if (!signal.aborted) orders.value = found;
  } catch (error) {
    if (!signal.aborted) ordersProblem.value = sentence(error);
  } finally {
    ordersJob.value = null;
  }
}
/** Put what was found by an order into the first column, with its picture. */
async function show(number: number): Promise<void> {
  const column = columns.value[0]!;
  const order = orders.value?.orders[number];
  if (!order?.found) return;
  column.problem = '';
  column.schools = { ...column.schools, order: order.order as Schools['order'] };
  try {
    column.picture = await takePicture('/api/picture', { plan: order.found.plan });
    column.found = order.found;
  } catch (error) {
    column.problem = sentence(error);
  }
}
function setSchool(column: Column, row: Row, value: string): void {
  column.schools = { ...column.schools, [row]: value };
  if (column.found) void fill(column);
}
async function use(column: Column): Promise<void> {
  if (!column.found) return;
  await store.replace('Scheme used', column.found.plan);
  store.selectCoat(column.found.plan.coats.length);
  open.value = false;
}
onBeforeUnmount(() => turn.abort());
</script>

<template>
  <ElDialog v-model="open" title="Scheme" width="940px" top="3vh" append-to-body>
    <div class="start" data-test="start-sequence">
      <div class="asked">
        <SchemeAnswers v-model="answers" on-plan />
        <div class="buttons">
          <span class="push" />
          <ElButton data-test="orders" :disabled="!!ordersJob" @click="tryOrders">
            Compare orders
          </ElButton>
          <ElButton
            type="primary"
            data-test="lay"
            :disabled="columns.some((c) => c.busy)"
            @click="lay"
          >
            {{ columns.some((c) => c.busy) ? 'Working it out …' : 'Compare both' }}
          </ElButton>
        </div>
      </div>
      <div v-if="ordersJob" class="working" role="status">
        <span class="small">{{ ordersJob.doing }}</span>
        <WorkBar :share="ordersJob.progress" :doing="ordersJob.doing" />
        <ElButton @click="stopJob(ordersJob!.id)">Stop</ElButton>
      </div>
      <p v-if="ordersProblem" class="note" role="alert">{{ ordersProblem }}</p>
      <OrdersTable v-if="orders" :tried="orders" @show="show" />
      <div class="columns">
        <section v-for="(c, i) in columns" :key="i" :aria-label="`School ${i + 1}`">
          <div class="schools">
            <ChoiceField
              v-for="row in ROWS"
              :key="row.id"
              :label="row.label"
              :data-test="`${row.id}-${i + 1}`"
              :model-value="c.schools[row.id]"
              :choices="SCHOOLS[row.id].map((o) => ({ id: o.id as string, label: o.name }))"
              @update:model-value="setSchool(c, row.id, $event)"
            />
          </div>
          <PictureCard
            :picture="c.picture"
            alt="The piece painted by this school"
            :waiting="
              c.problem || (c.busy ? 'Working out the sequence …' : 'Answer, then compare both.')
            "
          />
          <div v-if="workOf(c)" class="working" role="status">
            <WorkBar :share="workOf(c)!.progress" :doing="workOf(c)!.doing" />
            <ElButton v-if="c.job" @click="stopJob(c.job!.id)">Stop</ElButton>
          </div>
          <AddToShelf v-if="!c.picture" :text="c.problem" />
          <p v-else-if="c.problem" class="note" role="alert">
            {{ c.problem }} <AddToShelf :text="c.problem" />
          </p>
          <LandedChips v-if="c.found" :found="c.found" named />
          <p v-if="c.found" class="small number" :data-test="`lands-${i + 1}`">
            {{ c.found.lands.words }}
            <b v-if="nearer === i">Closer to the colours you asked for.</b>
          </p>
          <p v-if="c.found" class="small number">
            {{ c.found.cost.steps }} steps, {{ c.found.cost.cups }} cups, hands
            {{ duration(c.found.cost.minutes * 60) }}, {{ decimals(c.found.cost.ml, 1) }} ml mixed ·
            {{ issues(c.found.cost.findings) }}
            <template v-if="c.found.notes.length"
              ><br /><b>{{ c.found.notes.join(' ') }}</b>
              <AddToShelf :text="c.found.notes.join(' ')"
            /></template>
          </p>
          <ElButton :disabled="!c.found || c.busy" :data-test="`use-${i + 1}`" @click="use(c)">
            Use this
          </ElButton>
        </section>
      </div>
      <p class="small">
        The coats of the plan are replaced; Undo brings them back. Piece, lights and room stay.
      </p>
    </div>
  </ElDialog>
</template>

<style scoped>
.start {
  display: grid;
  gap: 14px;
}
.asked {
  display: grid;
  gap: 10px;
}
.buttons {
  display: flex;
  gap: 8px;
}
.push {
  flex: 1;
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
}
.working > span {
  grid-column: 1 / -1;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
.working {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 8px;
}
.schools {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
</style>
