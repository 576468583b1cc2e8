<script setup lang="ts">
import {
  ElButton,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElSegmented,
  ElTable,
  ElTableColumn,
} from 'element-plus';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { useRouter } from 'vue-router';

import { api, sentence, take, type BoothView, type DayRow, type DayWish } from '@/api/client';
import { clockTime, dayName, minutesOf, weekday } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import DayStrands from '@/instruments/day/DayStrands.vue';
import { placeOf } from '@/router';
import { usePlan } from '@/stores/plan';

import DayAsked from './DayAsked.vue';
import DayFigures from './DayFigures.vue';
import DayPrint from './DayPrint.vue';
import RunSheet from './RunSheet.vue';
import { useDay } from './use-day';

const MIDNIGHT = 24 * 60;
const QUARTER = 15;
const VIEWS = [
  { value: 'strands', label: 'Timeline' },
  { value: 'table', label: 'Table' },
  { value: 'sheet', label: 'Run sheet' },
];
const store = usePlan();
const router = useRouter();
const { day, job, problem, canTakeBack, lay, enough, change, takeBack, another, busy } = useDay(
  () => store.id,
);
const view = ref('strands');
const selected = ref<number | null>(null);

const laid = computed(() => day.value?.laid ?? null);
const start = computed(() => minutesOf(day.value?.doc.start ?? '14:00'));
watch(laid, () => (selected.value = null));
const row = computed<DayRow | null>(() =>
  selected.value === null ? null : (laid.value?.rows[selected.value] ?? null),
);
function at(minute: number): string {
  return clockTime(minute + start.value);
}
const about = computed(() => {
  const f = laid.value?.figures;
  if (!f || !day.value) return '';
  const count = day.value.plans.length;
  return `${count} plan${count === 1 ? '' : 's'}, ${f.copies} cop${f.copies === 1 ? 'y' : 'ies'}, ${f.coats} steps`;
});

/** Where a step may be put: quarter hours of its sitting and of the next. */
const moments = computed(() => {
  const now = row.value;
  if (!now || !day.value) return [];
  const length = minutesOf(day.value.doc.stop ?? '24:00') - start.value;
  const found = [];
  for (const on of [now.day, now.day + 1])
    for (let m = 0; m < length; m += QUARTER)
      found.push({
        id: on * MIDNIGHT + m,
        label: `${on === now.day ? '' : `${weekday(day.value.doc.date, on)} `}${at(m)}`,
      });
  return found;
});
function mine(
  now: DayRow,
  wish: { plan: string; step: string; part: number; copy_from: number },
): boolean {
  return (
    wish.plan === now.plan &&
    wish.step === now.step &&
    wish.part === now.part &&
    now.copies_from.includes(wish.copy_from)
  );
}
function want(kind: DayWish['kind'] | null, at_min = 0): void {
  const now = row.value;
  if (!now?.plan || !now.step) return;
  const { plan, step, part } = now;
  void change((doc) => {
    doc.wishes = doc.wishes.filter(
      (w) => !mine(now, { ...w, part: w.part, copy_from: w.copy_from }),
    );
    // one wish holds for all groups that are worked on together
    if (kind) {
      let begin = at_min;
      for (const copy_from of now.copies_from) {
        doc.wishes.push({ plan, step, part, copy_from, kind, at_min: begin });
        if (kind === 'pinned') begin += (now.to_min - now.from_min) / now.copies_from.length;
      }
    }
  }, true);
}
/** The day as the booth knows it, for paper. */
const paper = shallowRef<BoothView | null>(null);
async function print(): Promise<void> {
  if (!day.value) return;
  try {
    const path = { day_id: day.value.id };
    paper.value = await take(api.GET('/api/days/{day_id}/booth', { params: { path } }));
    await nextTick();
    window.print();
  } catch (error) {
    problem.value = sentence(error);
  }
}
function fileOf(name: string): string {
  return `/api/days/${day.value?.id}/${name}`;
}
function save(name: string): void {
  window.location.assign(fileOf(name));
}
</script>

<template>
  <div v-if="day" class="day" :class="{ papered: paper }" data-test="day" :data-busy="busy">
    <DayPrint v-if="paper" :day="day" :booth="paper" />
    <div class="sheet drawn">
      <header>
        <div>
          <h2>{{ dayName(day.doc.date) }}, {{ day.doc.start }}</h2>
          <p class="small">{{ about }}</p>
        </div>
        <span class="acts no-print">
          <ElSegmented
            v-model="view"
            :options="VIEWS"
            size="small"
            aria-label="How the day is shown"
          />
          <ElButton text data-test="print" @click="print">Print</ElButton>
          <ElDropdown trigger="click" @command="save">
            <ElButton text :disabled="!laid" data-test="day-files">Files</ElButton>
            <template #dropdown>
              <ElDropdownMenu>
                <ElDropdownItem command="day.ics">Calendar file</ElDropdownItem>
                <ElDropdownItem command="day.csv">Table (CSV)</ElDropdownItem>
              </ElDropdownMenu>
            </template>
          </ElDropdown>
          <ElButton
            type="primary"
            data-test="to-booth"
            :disabled="!laid || !!job"
            @click="router.push(placeOf(store.id!, 'booth'))"
            >Start at the booth</ElButton
          >
        </span>
      </header>
      <p v-if="problem" class="note stop" role="alert">
        {{ problem }} <ElButton @click="lay()">Try again</ElButton>
      </p>
      <p v-else-if="day.stale && !job" class="note no-print" role="status" data-test="stale">
        {{ day.stale }}
        <ElButton data-test="lay-again" @click="lay(true)">Plan it again, near this order</ElButton>
      </p>
      <div v-if="job" class="busy no-print" data-test="laying">
        <WorkBar :share="job.progress" :doing="job.doing" />
        <span class="small">{{ job.doing }}</span>
        <ElButton size="small" data-test="enough" @click="enough"
          >Stop, use the best so far</ElButton
        >
      </div>
      <template v-if="laid">
        <DayStrands
          v-if="view === 'strands'"
          :rows="laid.rows"
          :lanes="laid.lanes"
          :date="day.doc.date"
          :start-min="start"
          :selected="selected"
          @select="(n) => (selected = selected === n ? null : n)"
        />
        <ElTable v-else-if="view === 'table'" :data="laid.rows" size="small" data-test="day-table">
          <ElTableColumn v-if="laid.figures.days > 1" label="Day" width="130">
            <template #default="{ row: r }">{{ weekday(day.doc.date, r.day) }}</template>
          </ElTableColumn>
          <ElTableColumn label="From" width="70">
            <template #default="{ row: r }">{{ at(r.from_min) }}</template>
          </ElTableColumn>
          <ElTableColumn label="To" width="70">
            <template #default="{ row: r }">{{ at(r.to_min) }}</template>
          </ElTableColumn>
          <ElTableColumn label="What" min-width="220" prop="words" />
          <ElTableColumn label="How" min-width="180" prop="small" />
          <ElTableColumn label="Next from" width="90">
            <template #default="{ row: r }">{{
              r.ready_min === null || r.ready_min === undefined ? '' : at(r.ready_min)
            }}</template>
          </ElTableColumn>
        </ElTable>
        <RunSheet v-else />
      </template>
      <p v-else-if="!job && !problem" class="note">Nothing is planned yet.</p>
    </div>
    <aside class="sheet side no-print" aria-label="The chosen step and what it costs">
      <template v-if="row && day">
        <section class="chosen" aria-label="The chosen step" data-test="chosen">
          <h3>
            <i v-if="row.colour" class="chip" :style="{ background: row.colour }" />{{ row.words }}
          </h3>
          <p class="small">
            {{ at(row.from_min) }} to {{ at(row.to_min)
            }}<template v-if="row.small"> · {{ row.small }}</template>
          </p>
          <p v-if="row.ready_min !== null && row.ready_min !== undefined" class="small">
            Ready for the next step at {{ at(row.ready_min!) }}.
          </p>
          <div class="wants">
            <ElButton size="small" data-test="pin" @click="want('pinned', row.from_min)"
              >Pin</ElButton
            >
            <ElButton
              size="small"
              data-test="tomorrow"
              @click="want('later', (row.day + 1) * MIDNIGHT)"
              >Leave it for the next day</ElButton
            >
            <ElButton v-if="row.wish" size="small" data-test="unpin" @click="want(null)"
              >Unpin</ElButton
            >
          </div>
          <ChoiceField
            label="Begin it at"
            :model-value="''"
            :choices="moments"
            placeholder="another time"
            data-test="move"
            @update:model-value="(m: number) => want('pinned', m)"
          />
        </section>
      </template>
      <DayFigures v-if="laid" :day="day" :figures="laid.figures" />
      <p v-for="note in laid?.notes" :key="note" class="note stop" role="alert">{{ note }}</p>
      <section v-if="laid?.overnight.length" aria-label="Moved to tomorrow">
        <h3>Moved to tomorrow</h3>
        <p v-for="words in laid.overnight" :key="words" class="small">{{ words }}</p>
      </section>
      <section v-if="laid?.shared.length" aria-label="Shared cups">
        <h3>Shared cups</h3>
        <p v-for="words in laid.shared" :key="words" class="small">{{ words }}</p>
      </section>
      <DayAsked :day="day" :plan="store.id ?? ''" @change="(edit) => change(edit)" />
      <ElButton v-if="canTakeBack" text data-test="take-back" @click="takeBack">
        Take the last change back
      </ElButton>
      <ElButton v-if="laid && !job" text data-test="another" @click="another"> New day </ElButton>
    </aside>
  </div>
  <p v-else-if="problem" class="sheet note stop" role="alert">{{ problem }}</p>
  <p v-else class="sheet">Opening the day …</p>
</template>

<style scoped>
.day {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 316px;
  gap: 10px;
  height: 100%;
}
.sheet {
  display: grid;
  gap: 10px;
  align-content: start;
  overflow-y: auto;
}
.drawn {
  padding-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 6px 12px;
}
.acts {
  display: flex;
  align-items: center;
  gap: 4px;
}
.note.stop {
  border-left-color: var(--sign-stop);
}
.busy {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) auto auto;
  gap: 12px;
  align-items: center;
}
section {
  display: grid;
  gap: 4px;
}
.chosen {
  gap: 8px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--hair);
}
.chosen h3 {
  display: flex;
  align-items: center;
  gap: 8px;
}
.chip {
  flex: none;
  width: 16px;
  height: 16px;
  border-radius: 4px;
  box-shadow: inset 0 0 0 1px rgb(0 0 0 / 20%);
}
.wants {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.wants :deep(.el-button) {
  margin: 0;
}
@media (max-width: 1100px) {
  .day {
    grid-template-columns: minmax(0, 1fr) 268px;
  }
}
@media (max-width: 820px) {
  .day {
    display: block;
    height: auto;
  }
}
@media print {
  .day {
    display: block;
  }
  .sheet {
    overflow: visible;
  }
  .papered > .sheet {
    display: none;
  }
}
</style>
