<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useEventListener } from '@vueuse/core';

import type { Symptom, TrialLook } from '@/api/client';
import { useKeys } from '@/composables/use-keys';
import { ON_CARD } from '@/craft.generated';
import { useDevices } from '@/stores/devices';
import { useSettings } from '@/stores/settings';
import { knobLabel, knobValue } from '@/window/knobs';

import BoothProblem from './BoothProblem.vue';
import BoothTold from './BoothTold.vue';
import { isOver } from './standing';
import { useBooth } from './use-booth';
import { useDayClock } from './use-day-clock';
import { useDrift } from './use-drift';
import { useHoldPictures } from './use-hold-pictures';
import { usePedal } from './use-pedal';
import { useSound } from './use-sound';
import { useAwake } from './use-awake';

/** The day one step at a time, for gloves and a pedal, read from 1.5 m. */
const props = defineProps<{ id: string }>();
const LATE_MIN = 10;
const router = useRouter();
const settings = useSettings();
const booth = useBooth(() => props.id);
const { view, problem, step, count, state, minute, waits, lateMin, unsent, offline, busy } = booth;
const { refused, inMemoryOnly, unsentWhy, laying } = booth;
const sound = useSound();
const { until, timing } = useDayClock(view, minute, lateMin);
useAwake();

const devices = useDevices();
const { told: drifted, gauge, sagging } = useDrift(() => step.value);
const troubled = ref(false);
const more = ref(false);
const trouble = ref<InstanceType<typeof BoothProblem>>();
const pedal = usePedal(short, long);

function short(): void {
  if (troubled.value) trouble.value?.short();
  else if (more.value) more.value = false;
  else advance();
}
function long(): void {
  if (troubled.value) trouble.value?.long();
  else if (step.value) troubled.value = true;
}
function advance(): void {
  const one = step.value;
  if (!one) return;
  if (scrolledOn()) return;
  if (waits.value > 0) booth.goOn();
  else if (one.kind === 'trial') tried('clean');
  else booth.next();
}
const room = ref<HTMLElement>();
/** Whether there is more to read below; then it is brought up first. */
function scrolledOn(): boolean {
  const at = room.value;
  if (step.value?.kind !== 'caution') return false;
  if (!at || at.scrollTop + at.clientHeight >= at.scrollHeight - 4) return false;
  at.scrollTop += at.clientHeight - 60;
  return true;
}
function tried(look: TrialLook): void {
  booth.press('tried', { look });
}
function seen(symptom: Symptom): void {
  const one = step.value;
  if (!one) return;
  booth.press('problem', { symptom, plan: one.plan, coat: one.coat });
  const look = ON_CARD[symptom];
  // a card that shows a fault teaches; it is tried again with what was turned
  if (one.kind === 'trial' && look) {
    booth.press('tried', { look });
    booth.press('redone', { step: one.id });
  }
}
function turn(knob: string, to: number): void {
  booth.press('turned', { knob, to, plan: step.value?.plan, coat: step.value?.coat });
}
const copy = computed(() => {
  const one = step.value;
  if (!one?.which.length || !one.count) return null;
  const place = Math.min(
    one.which.length - 1,
    Math.floor((count.value * one.which.length) / one.count),
  );
  return one.unit === 'side' || one.unit === 'step' ? null : one.which[place]!;
});
const wrongCopy = computed(() => copy.value ?? step.value?.which[0] ?? null);
function wrong(): void {
  booth.press('wrong', { plan: step.value?.plan, copy_number: wrongCopy.value });
}
function skip(): void {
  more.value = false;
  booth.press('skipped');
}
/** Do this coat again from its first side. */
function redo(): void {
  more.value = false;
  const entry = step.value?.entry;
  const before = view.value?.steps ?? [];
  const place = before.findIndex((s) => s.id === step.value?.id);
  const own = before.filter((s) => s.entry === entry && s.kind !== 'clean');
  // at the first step of the next coat, it is the one before that is meant
  const begun = own.some((s) => isOver(state.value, s));
  const last = before[place - 1]?.entry;
  const again = begun ? own : before.filter((s) => s.entry === last && s.kind !== 'clean');
  for (const s of again) booth.press('redone', { step: s.id });
}
function startWaiting(): void {
  if (step.value?.after) booth.press('waiting');
}
function leave(): void {
  void router.push({ name: 'plan', params: { id: props.id, step: 'day' } });
}
async function again(): Promise<void> {
  more.value = false;
  await booth.again();
}
useKeys(
  {
    b: () => booth.back(),
    w: startWaiting,
    m: () => sound.toggle(),
    p: () => (troubled.value = true),
    s: skip,
    r: redo,
    l: () => void again(),
    t: turnForDrift,
    PageUp: () => booth.back(),
    Escape: () => {
      if (troubled.value) troubled.value = false;
      else if (more.value) more.value = false;
      else leave();
    },
  },
  () => true,
);

// the pedal at the bench is pressed like Space
watch(
  () => devices.pressed,
  () => (devices.now?.last_press === 'long' ? long() : short()),
);
function turnForDrift(): void {
  const { knob, to } = drifted.value ?? {};
  if (knob && to !== null && to !== undefined) turn(knob, to);
}
const driftTurn = computed(() => {
  const { knob, to } = drifted.value ?? {};
  if (!knob || to === null || to === undefined) return '';
  return `${knobLabel(knob)}: ${knobValue(knob, to, settings.values.pressure_unit ?? 'psi')}`;
});

// the wait is over: it is heard once
watch(waits, (left, before) => {
  if (before > 0 && left <= 0) sound.ring();
});

const picture = useHoldPictures(
  () => step.value,
  () => view.value?.steps ?? [],
);

/** Stretches of this sitting, for the line under the top. */
const stretches = computed(() => {
  const day = step.value?.day ?? 0;
  const found: { key: string; entry: string; done: boolean; here: boolean }[] = [];
  for (const s of view.value?.steps ?? []) {
    if (s.day !== day) continue;
    const over = isOver(state.value, s);
    const here = s.id === step.value?.id;
    const last = found.at(-1);
    if (last?.entry === s.entry) {
      last.done &&= over;
      last.here ||= here;
    } else found.push({ key: s.id, entry: s.entry, done: over, here });
  }
  return found;
});
watch(step, () => {
  if (room.value) room.value.scrollTop = 0;
});
onMounted(() => {
  void settings.load().catch(() => undefined);
});
// a finger on the big button holds it like the pedal
useEventListener(window, 'pointerup', () => pedal.up());

const units = computed(() => {
  const one = step.value;
  if (!one) return '';
  if (one.kind !== 'hold') return one.count > 1 ? `Copy ${count.value + 1} of ${one.count}` : '';
  const rounds = one.rounds ?? 1;
  const each = one.unit === 'side' && one.which.length > 1 ? ` on each of ${one.which.length}` : '';
  if (one.unit === 'round') return `Round ${(count.value % rounds) + 1} of ${rounds}`;
  return `${rounds === 1 ? 'One round' : `${rounds} rounds`}${each}`;
});
const title = computed(() => {
  const one = step.value;
  if (!one) return '';
  if (waits.value > 0) return clockLeft(waits.value);
  return one.kind === 'hold' ? units.value : one.title;
});
function clockLeft(minutes: number): string {
  const seconds = Math.ceil(minutes * 60);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
const nextWords = computed(() => {
  const one = step.value;
  if (!one) return 'Done';
  if (waits.value > 0) return 'It is dry';
  if (one.kind === 'trial') return 'Clean on card';
  if (one.kind === 'caution') return 'I have read it';
  if (one.kind === 'hold')
    return one.unit === 'round' ? 'Round done' : one.count > 1 ? 'Copy done' : 'Side done';
  return one.count > 1 ? 'Copy done' : 'Done';
});
</script>

<template>
  <div
    class="booth"
    data-test="booth"
    :data-step="step?.id"
    :data-count="count"
    :data-unsent="unsent"
  >
    <header>
      <span class="about">{{ step?.about ?? view?.name ?? '' }}</span>
      <span class="which">
        <template v-if="copy !== null && (step?.which.length ?? 0) > 1"
          >copy {{ copy }} of {{ step?.which.length }} ·
        </template>
        <span data-test="timing">{{ timing }}</span>
      </span>
    </header>
    <div class="line" aria-hidden="true">
      <i v-for="s in stretches" :key="s.key" :class="{ done: s.done, here: s.here }" />
    </div>
    <div ref="room" class="room">
      <p v-if="problem" class="said" role="alert">
        {{ problem }}
        <ElButton class="small" @click="leave">To the day</ElButton>
      </p>
      <BoothProblem
        v-else-if="troubled && step"
        ref="trouble"
        :key="step.id"
        :step="step"
        @seen="seen"
        @turn="turn"
        @wrong="wrong"
        @close="troubled = false"
      />
      <section v-else-if="more" class="more" aria-label="More">
        <ElButton data-test="skip" @click="skip">Skip this step <kbd>S</kbd></ElButton>
        <ElButton data-test="redo" @click="redo">Do this coat again <kbd>R</kbd></ElButton>
        <ElButton data-test="lay-rest" :loading="busy" @click="again"
          >Replan the rest from now <kbd>L</kbd></ElButton
        >
        <ElButton data-test="mute" @click="sound.toggle"
          >{{ sound.on.value ? 'Sound off' : 'Sound on' }} <kbd>M</kbd></ElButton
        >
        <ElButton v-if="step?.after" data-test="wait" @click="startWaiting"
          >Begin the wait now <kbd>W</kbd></ElButton
        >
        <ElButton data-test="leave" @click="leave">Leave the booth <kbd>Esc</kbd></ElButton>
      </section>
      <BoothTold
        v-else-if="step"
        :step="step"
        :title="title"
        :units="units"
        :dry-at="waits > 0 ? until(minute + waits) : ''"
        :gauge="gauge"
        :sagging="sagging"
        :picture="picture"
      />
      <div v-else-if="view" class="step">
        <h1 data-test="booth-title">All done</h1>
        <p class="large">Everything of this day is finished.</p>
      </div>
      <p v-else class="large" role="status">
        {{
          laying
            ? `Planning the day … ${Math.round(100 * laying.progress)} %`
            : 'Opening the booth …'
        }}
      </p>
      <p v-for="words in booth.missed.value" :key="words" class="said" role="alert">{{ words }}</p>
    </div>
    <div v-if="refused.length" class="state" role="alert" data-test="refused">
      {{ refused.length }} press{{ refused.length === 1 ? '' : 'es' }} could not be stored and
      {{ refused.length === 1 ? 'does' : 'do' }} not count: {{ refused[0]!.why }}
      <ElButton class="turn" data-test="dismiss-refused" @click="booth.dismissRefused"
        >Dismiss</ElButton
      >
    </div>
    <p v-if="inMemoryOnly && unsent" class="state" role="alert" data-test="in-memory">
      This browser has no room to keep presses. They count, and are sent as long as this page stays
      open.
    </p>
    <div v-if="drifted?.words.length && !troubled" class="state" role="status" data-test="drift">
      {{ drifted.words.join(' ') }}
      <ElButton v-if="driftTurn" class="turn" data-test="drift-turn" @click="turnForDrift"
        >{{ driftTurn }} <kbd>T</kbd></ElButton
      >
    </div>
    <p
      v-else-if="offline || unsentWhy || lateMin > LATE_MIN"
      class="state"
      role="status"
      data-test="booth-state"
    >
      <template v-if="offline"
        >No connection: {{ unsent }} press{{ unsent === 1 ? '' : 'es' }} kept here, sent when it is
        back.</template
      >
      <template v-else-if="unsentWhy"
        >{{ unsent }} press{{ unsent === 1 ? '' : 'es' }} kept here: {{ unsentWhy }}</template
      >
      <template v-else>Later than planned: L replans the rest.</template>
    </p>
    <footer v-if="!troubled">
      <ElButton
        class="next"
        type="primary"
        :disabled="!step"
        data-test="next"
        @pointerdown.prevent="pedal.down"
        >{{ nextWords }} <small>Space or pedal</small>
        <i class="held" :style="{ width: `${pedal.held.value * 100}%` }"
      /></ElButton>
      <ElButton data-test="problem" :disabled="!step" @click="troubled = true"
        >Problem <small>P or hold</small></ElButton
      >
      <ElButton data-test="back" @click="booth.back">Back <small>B</small></ElButton>
      <ElButton data-test="more" @click="more = !more">More</ElButton>
    </footer>
    <footer v-else>
      <ElButton data-test="close-problem" @click="troubled = false"
        >Close <small>Esc</small></ElButton
      >
    </footer>
    <span class="visually-hidden" aria-live="polite">{{ step?.about }} {{ title }}</span>
  </div>
</template>

<style scoped>
.booth {
  position: fixed;
  inset: 0;
  z-index: 20;
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) auto auto;
  gap: 14px;
  padding: 26px 40px 30px;
  background: var(--sheet);
  color: var(--ink);
  font-size: 28px;
  touch-action: manipulation;
}
header {
  display: flex;
  justify-content: space-between;
  gap: 24px;
  line-height: 1.2;
}
.about {
  font-weight: 680;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.which {
  flex: none;
  color: var(--ink-2);
}
.line {
  display: flex;
  gap: 4px;
  height: 8px;
}
.line i {
  flex: 1;
  background: var(--well-2);
}
.line .done {
  background: var(--edge);
}
.line .here {
  background: var(--black);
}
.room {
  min-height: 0;
  overflow-y: auto;
}
.step {
  display: grid;
  align-content: start;
  gap: 16px;
}
h1 {
  font-size: 72px;
  font-weight: 740;
  line-height: 1;
}
.large {
  font-size: 36px;
  line-height: 1.2;
}
.more {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 16px;
}
.more :deep(.el-button),
footer :deep(.el-button) {
  height: auto;
  min-height: 104px;
  margin: 0;
  padding: 8px 16px;
  font-size: 34px;
  font-weight: 700;
  white-space: normal;
  line-height: 1.1;
}
kbd,
footer small {
  margin-left: 10px;
  font: inherit;
  font-size: 28px;
  font-weight: 400;
  color: inherit;
  opacity: 0.86;
}
.said,
.state {
  padding: 12px 18px;
  border-left: 8px solid var(--sign-stop);
  border-radius: 6px;
  background: var(--well);
  font-size: 30px;
  line-height: 1.25;
}
.turn.el-button,
.said :deep(.el-button) {
  height: auto;
  min-height: 64px;
  font-size: 30px;
}
footer {
  display: grid;
  grid-template-columns: minmax(0, 2.2fr) minmax(0, 1.3fr) minmax(0, 0.9fr) minmax(0, 0.7fr);
  gap: 16px;
}
.next {
  position: relative;
  overflow: hidden;
  touch-action: none;
}
.held {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 10px;
  background: var(--sign-stop);
}
@media (max-width: 900px) {
  .booth {
    padding: 18px 20px 20px;
  }
  header {
    flex-direction: column;
    gap: 4px;
  }
  footer {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
  footer small {
    display: block;
    margin: 0;
  }
  .next {
    grid-column: 1 / -1;
  }
}
/* a low window: the step scrolls above its buttons */
@media (max-height: 640px) {
  .booth {
    grid-template-rows: auto auto minmax(max-content, 1fr) auto auto;
    gap: 10px;
    padding: 14px 20px 0;
    overflow-y: auto;
  }
  .room {
    overflow: visible;
  }
  footer {
    position: sticky;
    bottom: 0;
    grid-template-columns: minmax(0, 1fr) auto auto auto;
    gap: 8px;
    padding: 6px 0 10px;
    background: var(--sheet);
  }
  footer small {
    display: none;
  }
  footer :deep(.el-button) {
    min-height: 64px;
    padding: 4px 10px;
    font-size: 28px;
  }
  .next {
    grid-column: auto;
  }
}
</style>
