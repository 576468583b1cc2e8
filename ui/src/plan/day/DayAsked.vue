<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus';
import { computed } from 'vue';

import type { DayDoc, DayView } from '@/api/client';
import { clockTime, dateFromNow, dayName, minutesOf } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';

/** What is asked of a day: when, who is in it, breaks, airbrushes. */
const props = defineProps<{ day: DayView; plan: string }>();
const emit = defineEmits<{ change: [edit: (doc: DayDoc) => void] }>();

const QUARTER = 15;
const DAYS_AHEAD = 14;
const SOME_STOPS = ['18:00', '21:00'];
const WHEN_DONE = '';

const doc = computed(() => props.day.doc);
function times(from: number, to: number): { id: string; label: string }[] {
  const found = [];
  for (let at = from; at <= to; at += QUARTER) {
    const label = at === 24 * 60 ? '24:00' : clockTime(at);
    found.push({ id: label, label });
  }
  return found;
}
const starts = computed(() => withOwn(times(0, 23 * 60), doc.value.start));
const stops = computed(() =>
  withOwn(times(minutesOf(doc.value.start) + 30, 24 * 60), doc.value.stop ?? '21:00'),
);
function withOwn(choices: { id: string; label: string }[], own: string): typeof choices {
  return choices.some((c) => c.id === own) ? choices : [{ id: own, label: own }, ...choices];
}
const dates = computed(() => {
  const ahead = Array.from({ length: DAYS_AHEAD }, (_, n) => dateFromNow(n));
  const all = ahead.includes(doc.value.date) ? ahead : [doc.value.date, ...ahead];
  return all.map((id) => ({ id, label: dayName(id) }));
});
const others = computed(() =>
  props.day.others.map((p) => ({ id: p.id, label: p.name, more: `${p.copies} × ${p.piece}` })),
);
function stopAt(value: unknown): void {
  emit('change', (d) => {
    d.stop = value === WHEN_DONE ? null : String(value);
  });
}
function startAt(value: string): void {
  emit('change', (d) => {
    d.start = value;
    if (d.stop !== null && minutesOf(d.stop!) <= minutesOf(value)) d.stop = null;
  });
}
const LATEST = 24 * 60 - QUARTER;
function addBreak(): void {
  const last = doc.value.breaks.at(-1);
  const after = last ? minutesOf(last.end) + 60 : minutesOf(doc.value.start) + 120;
  const at = Math.min(after, LATEST - QUARTER);
  emit('change', (d) => d.breaks.push({ begin: clockTime(at), end: clockTime(at + QUARTER) }));
}
function moveBreak(n: number, end: 'begin' | 'end', value: string): void {
  emit('change', (d) => {
    const pause = d.breaks[n]!;
    const long = minutesOf(pause.end) - minutesOf(pause.begin);
    pause[end] = value;
    if (minutesOf(pause.end) > minutesOf(pause.begin)) return;
    if (end === 'begin') pause.end = clockTime(Math.min(minutesOf(value) + long, LATEST));
    else pause.begin = clockTime(Math.max(minutesOf(value) - QUARTER, 0));
  });
}
</script>

<template>
  <div class="asked">
    <section aria-label="Plans of this day">
      <h3>In this day</h3>
      <ul class="plans">
        <li v-for="p in day.plans" :key="p.id">
          <span>{{ p.name }}</span>
          <ElButton
            v-if="day.plans.length > 1 && p.id !== plan"
            text
            size="small"
            :aria-label="`Remove ${p.name}`"
            @click="emit('change', (d) => (d.plans = d.plans.filter((id) => id !== p.id)))"
            >Remove</ElButton
          >
        </li>
      </ul>
      <ChoiceField
        v-if="others.length && day.plans.length < 12"
        label="Add a plan"
        hide-label
        placeholder="Add a plan to this day"
        model-value=""
        :choices="others"
        data-test="add-plan"
        @update:model-value="(id: string) => emit('change', (d) => d.plans.push(id))"
      />
    </section>
    <section aria-label="When">
      <h3>Finish by</h3>
      <ElRadioGroup
        :model-value="doc.stop === null ? WHEN_DONE : doc.stop"
        aria-label="Finish by"
        data-test="stop"
        @update:model-value="stopAt"
      >
        <ElRadioButton v-for="s in SOME_STOPS" :key="s" :value="s">{{ s }}</ElRadioButton>
        <ElRadioButton :value="WHEN_DONE">when done</ElRadioButton>
      </ElRadioGroup>
      <ChoiceField
        label="Day"
        :model-value="doc.date"
        :choices="dates"
        @update:model-value="(v: string) => emit('change', (d) => (d.date = v))"
      />
      <div class="pair">
        <ChoiceField
          label="Start"
          :model-value="doc.start"
          :choices="starts"
          data-test="start"
          @update:model-value="startAt"
        />
        <ChoiceField
          v-if="doc.stop !== null"
          label="Stop"
          :model-value="doc.stop!"
          :choices="stops"
          @update:model-value="stopAt"
        />
      </div>
    </section>
    <section aria-label="Breaks">
      <div v-for="(pause, n) in doc.breaks" :key="n" class="pair break">
        <ChoiceField
          :label="`Break ${n + 1} from`"
          :model-value="pause.begin"
          :choices="withOwn(times(0, LATEST - QUARTER), pause.begin)"
          @update:model-value="(v: string) => moveBreak(n, 'begin', v)"
        />
        <ChoiceField
          label="to"
          :model-value="pause.end"
          :choices="withOwn(times(QUARTER, LATEST), pause.end)"
          @update:model-value="(v: string) => moveBreak(n, 'end', v)"
        />
        <ElButton
          text
          :aria-label="`Remove break ${n + 1}`"
          @click="emit('change', (d) => d.breaks.splice(n, 1))"
          >Remove</ElButton
        >
      </div>
      <ElButton v-if="doc.breaks.length < 10" text data-test="add-break" @click="addBreak">
        Add a break
      </ElButton>
    </section>
    <section aria-label="Airbrushes">
      <h3>Airbrushes</h3>
      <ElRadioGroup
        :model-value="doc.airbrushes"
        aria-label="Airbrushes"
        @update:model-value="(v) => emit('change', (d) => (d.airbrushes = v === 2 ? 2 : 1))"
      >
        <ElRadioButton :value="1">one</ElRadioButton>
        <ElRadioButton :value="2">two</ElRadioButton>
      </ElRadioGroup>
    </section>
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  gap: 14px;
}
section {
  display: grid;
  gap: 6px;
  justify-items: start;
}
section > :deep(.choice) {
  width: 100%;
}
.el-radio-group {
  flex-wrap: nowrap;
}
.el-radio-group :deep(.el-radio-button__inner) {
  padding-inline: 12px;
}
.plans {
  display: grid;
  gap: 2px;
  width: 100%;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: var(--f14);
}
.plans li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  min-height: 28px;
  overflow-wrap: anywhere;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  width: 100%;
}
.pair.break {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  align-items: end;
}
</style>
