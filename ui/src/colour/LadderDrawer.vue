<script setup lang="ts">
import {
  ElButton,
  ElCheckbox,
  ElDrawer,
  ElOption,
  ElSelect,
  ElTable,
  ElTableColumn,
} from 'element-plus';
import { computed, ref, watch } from 'vue';

import AddToShelf from '@/displays/AddToShelf.vue';
import { api, take, type LadderOut, type RungsOut, type Schools } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { BARE, RUNGS, SCHOOLS } from '@/craft.generated';
import LadderSteps from '@/instruments/ladder/LadderSteps.vue';
import ColourField from '@/fields/ColourField.vue';
import DropRow from './DropRow.vue';
import { decimals, share } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';
import StatusSign from '@/displays/StatusSign.vue';
import WorkBar from '@/displays/WorkBar.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';
import ChoiceField from '@/fields/ChoiceField.vue';

/** A ladder of owned paints, and the way from it onto the piece. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();
const shelf = useShelf();
const { job, problem, run, stop } = useJob<LadderOut>();
const placing = useJob<RungsOut>();

type Order = Schools['order'] | 'hue_ground';
const ORDERS: { id: Order; label: string }[] = [
  ...SCHOOLS.order.map((o) => ({ id: o.id, label: `${o.name}: ${o.words}` })),
  { id: 'hue_ground', label: 'Hue ground: begin in its own dark' },
];
const CUPS = SCHOOLS.cup.map((c) => ({ id: c.id, label: c.words }));
const colours = ref(['#3d4a2a', '#8aa24f']);
const rungs = ref(5);
const asNeeded = ref(false);
const order = ref<Order>('climb');
const cup = ref<'rinse' | 'carry'>('rinse');
const film = ref(6);
const use = ref<string[]>([]);
const later = ref(false);
const found = ref<LadderOut | null>(null);
const asked = ref('');

watch(open, (now) => {
  if (!now) {
    stop();
    return;
  }
  const schools = store.plan?.schools;
  order.value = (schools?.order ?? 'climb') as Order;
  cup.value = schools?.cup ?? 'rinse';
  const from = store.coat;
  if (from && (from.task === 'rung' || from.task === 'cover') && !found.value)
    colours.value = [from.paint.masstone];
});

const here = computed(() => store.places[store.after] ?? null);
const then = computed(() => here.value?.later ?? []);
const body = computed(() => ({
  colours: colours.value,
  rungs: asNeeded.value ? null : Math.round(rungs.value),
  order: order.value,
  cup: cup.value,
  over: here.value?.ground ?? store.plan?.piece.surface ?? BARE,
  dry_film_um: film.value,
  max_drops: 8,
  use: use.value,
  then: later.value ? then.value : [],
}));
async function build(): Promise<void> {
  const wish = body.value;
  const out = await run(
    () => take(api.POST('/api/ladder', { body: wish })),
    (id) => take(api.GET('/api/ladder/{job_id}', { params: { path: { job_id: id } } })),
  );
  if (!out) return;
  found.value = out;
  asked.value = typed(wish);
}
/** What the painter chose; the colours around it may be known better meanwhile. */
function typed(wish: typeof body.value): string {
  return JSON.stringify({ ...wish, over: null, then: wish.then.length > 0 });
}
const stale = computed(() => found.value !== null && asked.value !== typed(body.value));

async function putOn(): Promise<void> {
  const plan = store.plan;
  if (!plan || !found.value) return;
  const before = JSON.stringify(plan);
  const at = store.after;
  const wish = {
    plan,
    after: at,
    rungs: found.value.rungs.map((r) => ({
      drops: r.drops,
      cover: r.cover,
      note:
        cup.value === 'carry' && r !== found.value!.rungs[0]
          ? `Add to what is left in the cup: ${words(r.add)}`
          : '',
    })),
  };
  const out = await placing.run(
    () => take(api.POST('/api/rungs', { body: wish })),
    (id) => take(api.GET('/api/rungs/{job_id}', { params: { path: { job_id: id } } })),
  );
  if (!out) return;
  if (JSON.stringify(store.plan) !== before) {
    placing.problem.value = 'The plan was changed meanwhile; nothing was added. Try once more.';
    return;
  }
  await store.change(`Ladder of ${out.coats.length} rungs`, (draft) =>
    draft.coats.splice(at, 0, ...out.coats),
  );
  store.selectCoat(at + out.coats.length);
  open.value = false;
}
function words(drops: Record<string, number>): string {
  return Object.entries(drops)
    .map(([id, n]) => `${n} ${shelf.shelf.paints.find((p) => p.id === id)?.name ?? id}`)
    .join(', ');
}
function setColour(i: number, value: string): void {
  colours.value = colours.value.map((c, j) => (j === i ? value : c));
}
const LABELS = computed(() =>
  colours.value.length === 1
    ? ['Its own colour']
    : colours.value.length === 2
      ? ['Dark end', 'Light end']
      : ['Dark end', 'Middle', 'Light end'],
);
</script>

<template>
  <ElDrawer v-model="open" title="Ladder" size="940px" append-to-body>
    <div class="ladder" data-test="ladder-drawer">
      <div class="ask">
        <ColourField
          v-for="(c, i) in colours"
          :key="i"
          :label="LABELS[i]!"
          :model-value="c"
          @update:model-value="setColour(i, $event)"
        />
        <div class="pair">
          <ElButton :disabled="colours.length >= 3" @click="colours = [...colours, '#e6d7ae']">
            One more
          </ElButton>
          <ElButton :disabled="colours.length <= 1" @click="colours = colours.slice(0, -1)">
            Remove
          </ElButton>
        </div>
        <ChoiceField v-model="order" label="Order" :choices="ORDERS" />
        <div class="pair">
          <NumberField
            v-if="!asNeeded"
            label="Rungs"
            :min="RUNGS[0]"
            :max="RUNGS[1]"
            :model-value="rungs"
            @update:model-value="rungs = $event"
          />
          <NumberField
            label="Film of each"
            unit="µm"
            :min="0.5"
            :max="60"
            :digits="1"
            :model-value="film"
            @update:model-value="film = $event"
          />
        </div>
        <ElCheckbox v-model="asNeeded">As many rungs as smooth steps need</ElCheckbox>
        <ChoiceField v-model="cup" label="Cup" :choices="CUPS" />
        <ElCheckbox v-if="then.length" v-model="later">
          Aim past what comes later ({{ then.length }})
        </ElCheckbox>
        <div>
          <span class="small">Only from these paints</span>
          <ElSelect
            v-model="use"
            multiple
            filterable
            :multiple-limit="5"
            placeholder="Haze chooses"
            aria-label="Only from these paints"
          >
            <ElOption v-for="p in shelf.shelf.paints" :key="p.id" :value="p.id" :label="p.name" />
          </ElSelect>
        </div>
        <ElButton type="primary" data-test="build" :disabled="!!job" @click="build">
          Build the ladder
        </ElButton>
      </div>
      <div class="found">
        <div v-if="job || placing.job.value" class="working" role="status">
          <span class="small">{{ (job ?? placing.job.value)!.doing }}</span>
          <WorkBar
            :share="(job ?? placing.job.value)!.progress"
            :doing="(job ?? placing.job.value)!.doing"
          />
          <ElButton
            @click="
              stop();
              placing.stop();
            "
          >
            Stop
          </ElButton>
        </div>
        <p v-if="problem || placing.problem.value" class="note" role="alert">
          {{ problem || placing.problem.value }}
          <AddToShelf :text="problem || placing.problem.value" />
        </p>
        <template v-if="found">
          <p v-if="stale" class="note">This ladder is for the question before; build it again.</p>
          <LadderSteps :rungs="found.rungs" />
          <p class="small">
            In the order they are sprayed. Rise is lightness, width the share of the
            surface<template v-if="found.rungs.some((r) => r.after_all !== r.colour)"
              >; the strip at the foot is the colour after all that follows</template
            >. Largest step {{ decimals(found.evenness, 2) }} × the smallest.
          </p>
          <p v-for="n in found.notes" :key="n" class="note"><StatusSign sign="mind" /> {{ n }}</p>
          <p v-if="found.instead" class="note"><StatusSign sign="mind" /> {{ found.instead }}</p>
          <ElTable :data="found.rungs" aria-label="Rungs" data-test="rungs">
            <ElTableColumn label="rung" width="70">
              <template #default="{ row, $index }">
                <span class="chip" :style="{ background: row.colour }" /> {{ $index + 1 }}
              </template>
            </ElTableColumn>
            <ElTableColumn
              :label="cup === 'carry' ? 'mix, and what to add to the rest' : 'drops'"
              min-width="180"
            >
              <template #default="{ row, $index }">
                <DropRow :drops="row.drops" />
                <small v-if="cup === 'carry' && $index">add {{ words(row.add) }}</small>
              </template>
            </ElTableColumn>
            <ElTableColumn label="L*" align="right" width="56">
              <template #default="{ row }">{{ decimals(row.lightness, 0) }}</template>
            </ElTableColumn>
            <ElTableColumn label="covers" align="right" width="76">
              <template #default="{ row }">{{ share(row.cover) }}</template>
            </ElTableColumn>
            <ElTableColumn label="mind" min-width="110">
              <template #default="{ row }">{{ row.notes.join('; ') || 'even' }}</template>
            </ElTableColumn>
          </ElTable>
          <ElButton
            type="primary"
            data-test="put-on"
            :disabled="stale || !!placing.job.value"
            @click="putOn"
          >
            Put these {{ found.rungs.length }} rungs on the piece
          </ElButton>
        </template>
        <p v-else-if="!job" class="small">
          From one colour, Haze builds its dark and its light; from two or three, the way between
          them. Every rung is whole drops of paints you own.
        </p>
      </div>
    </div>
  </ElDrawer>
</template>

<style scoped>
.ladder {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 24px;
}
.ask,
.found {
  display: grid;
  gap: 10px;
  align-content: start;
}
.working {
  display: grid;
  gap: 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  font-weight: 400;
  text-align: left;
}
td {
  padding: 5px 10px 5px 0;
  border-top: 1px solid var(--hair);
  vertical-align: top;
}
.number {
  text-align: right;
  white-space: nowrap;
}
td:last-child,
th:last-child {
  padding-left: 14px;
}
.chip {
  display: inline-block;
  width: 26px;
  height: 22px;
  border: 1px solid var(--edge);
  vertical-align: -5px;
}
</style>
