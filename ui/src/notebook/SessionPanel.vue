<script setup lang="ts">
import { ElButton, ElInput, ElRate, ElTable, ElTableColumn } from 'element-plus';
import { computed, onMounted, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type CoatDone,
  type PairTaught,
  type SessionView,
} from '@/api/client';
import { dayName, decimals, hoursWords, temperature, timeOf } from '@/displays/format';
import { usePicture } from '@/composables/use-picture';
import { placeThen } from '@/router';
import { useSettings } from '@/stores/settings';
import { knobLabel, knobValue } from '@/window/knobs';

import AgainDialog from './AgainDialog.vue';
import DotIcon from './DotIcon.vue';
import PhotoStrip from './PhotoStrip.vue';

/** One session: planned beside done, what it taught, photos, notes, and the way back to its plan. */
const props = defineProps<{ id: string }>();
const emit = defineEmits<{ changed: []; gone: [] }>();
const router = useRouter();
const settings = useSettings();
const view = shallowRef<SessionView | null>(null);
const problem = ref('');
const note = ref('');
const rating = ref<number | null>(null);
const again = ref(false);
const unit = computed(() => settings.values.pressure_unit ?? 'psi');

async function load(): Promise<void> {
  try {
    adopt(
      await take(
        api.GET('/api/sessions/{session_id}', { params: { path: { session_id: props.id } } }),
      ),
    );
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
function adopt(now: SessionView): void {
  view.value = now;
  note.value = now.note;
  rating.value = now.line.rating ?? null;
}

const when = computed(() => {
  const v = view.value;
  if (!v) return '';
  const [from, to] = [timeOf(v.began_at), timeOf(v.ended_at)];
  const parts = [`${dayName(v.line.date)}, ${from === to ? from : `${from}–${to}`}`];
  if (v.room) {
    const how = v.room.measured ? '' : ' (as typed)';
    parts.push(`${temperature(v.room.temperature_c)}, ${decimals(v.room.humidity_pct, 0)} %${how}`);
  }
  if (v.told.airbrush) parts.push(v.told.airbrush);
  return parts.join(' · ');
});
const minutes = computed(() => {
  const v = view.value;
  if (!v || v.line.kind !== 'booth') return '';
  const planned = v.told.planned_min;
  const asked = planned === null || planned === undefined ? '' : `, planned ${hoursWords(planned)}`;
  return `${hoursWords(v.told.minutes)}${asked}`;
});
const touched = computed(
  () => view.value?.told.coats.filter((c) => c.copies || c.done_min || c.skipped) ?? [],
);
interface Knob {
  words: string;
  other: boolean;
}
const SHOWN = ['pressure_psi', 'thinner_parts', 'trigger', 'distance_mm', 'speed_mm_s'] as const;
function planned(c: CoatDone): string {
  if (!c.planned) return `by hand, ${hoursWords(c.planned_min)}`;
  return `${knobValue('pressure_psi', c.planned.pressure_psi, unit.value)}, ${ratio(
    c.planned.thinner_parts,
  )}, ${rounds(c.planned_rounds)}`;
}
function ratio(parts: number): string {
  return parts ? `${decimals(parts, 2)}:1` : 'unthinned';
}
function rounds(count: number): string {
  return count === 1 ? '1 round' : `${count} rounds`;
}
/** What was set otherwise; empty when all was as planned. */
function done(c: CoatDone): Knob[] {
  if (!c.planned || !c.done) return [];
  const was = c.planned;
  const now = c.done;
  const turned = SHOWN.filter((k) => was[k] !== now[k]);
  if (!turned.length && c.planned_rounds === c.done_rounds) return [];
  const usual: Knob[] = (['pressure_psi', 'thinner_parts'] as const).map((k) => ({
    words: k === 'pressure_psi' ? knobValue(k, now[k], unit.value) : ratio(now.thinner_parts),
    other: was[k] !== now[k],
  }));
  const more = turned
    .filter((k) => k !== 'pressure_psi' && k !== 'thinner_parts')
    .map((k) => ({
      words: `${knobLabel(k).toLowerCase()} ${knobValue(k, now[k], unit.value)}`,
      other: true,
    }));
  const counted = { words: rounds(c.done_rounds), other: c.done_rounds !== c.planned_rounds };
  return [...usual, ...more, counted];
}
function state(c: CoatDone): string {
  if (c.skipped && !c.copies) return 'skipped';
  if (!c.copies) return 'begun';
  return '';
}
function aside(c: CoatDone): string {
  const of = view.value?.told.copies ?? 1;
  const parts = [hoursWords(c.done_min)];
  if (of > 1 && c.copies < of) parts.push(`${c.copies} of ${of}`);
  if (c.again) parts.push('done again');
  return parts.join(' · ');
}

/** Problems in sentences, the same one told once. */
const troubles = computed(() => {
  const found = new Map<string, number>();
  for (const t of view.value?.told.troubles ?? []) {
    const turned =
      t.knob && t.to !== null && t.to !== undefined
        ? `; ${knobLabel(t.knob).toLowerCase()} to ${knobValue(t.knob, t.to, unit.value)}`
        : '';
    const words = `${t.coat}: ${t.symptom.toLowerCase()}${turned}`;
    found.set(words, (found.get(words) ?? 0) + 1);
  }
  return [...found].map(([words, times]) =>
    times > 1 ? `${words}, ${times} times.` : `${words}.`,
  );
});
/** The table as it is read. */
const rows = computed(() =>
  touched.value.map((c) => {
    const other = done(c);
    const as = other.length ? other : [{ words: 'as planned', other: false }];
    return {
      name: c.name,
      colour: c.colour,
      planned: planned(c),
      done: state(c) ? [{ words: state(c), other: false }] : as,
      aside: aside(c),
    };
  }),
);

/** Keep what is written here as it stands; a later word never overtakes an earlier one. */
let marking: Promise<void> = Promise.resolve();
function mark(): Promise<void> {
  marking = marking.then(async () => {
    problem.value = '';
    const body = { note: note.value, rating: rating.value };
    try {
      const path = { path: { session_id: props.id } };
      view.value = await take(api.PUT('/api/sessions/{session_id}', { params: path, body }));
      emit('changed');
    } catch (error) {
      problem.value = sentence(error);
    }
  });
  return marking;
}
function rate(value: number): void {
  rating.value = value || null;
  void mark();
}
async function takeBack(pair: PairTaught): Promise<void> {
  problem.value = '';
  try {
    for (const trial of pair.trials)
      await take(
        api.POST('/api/trials/{trial_id}/back', {
          params: { path: { trial_id: trial } },
          body: { back: pair.counts },
        }),
      );
    await load();
    emit('changed');
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function away(): Promise<void> {
  try {
    await take(
      api.POST('/api/sessions/{session_id}/trash', {
        params: { path: { session_id: props.id } },
        body: { trashed: true },
      }),
    );
    emit('gone');
  } catch (error) {
    problem.value = sentence(error);
  }
}
const picture = usePicture(() =>
  view.value?.has_plan ? `/api/sessions/${props.id}/picture.png` : null,
);
</script>

<template>
  <aside class="session" aria-label="The session" data-test="panel">
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <div v-if="view" class="told">
      <div class="half">
        <div v-if="view.has_plan" class="card">
          <img v-if="picture.url.value" :src="picture.url.value" alt="The piece as planned" />
          <small v-else-if="picture.problem.value">{{ picture.problem.value }}</small>
        </div>
        <h2 data-test="session-name">{{ view.line.name }}</h2>
        <p class="small">{{ when }}</p>
        <p v-if="minutes" class="small">{{ view.line.what }} · {{ minutes }}</p>
        <section v-if="touched.length" aria-label="Planned and done">
          <h3>Planned and done</h3>
          <ElTable :data="rows" size="small" data-test="planned-and-done">
            <ElTableColumn label="step" min-width="96">
              <template #default="{ row }">
                <i v-if="row.colour" class="chip" :style="{ background: row.colour }" />{{
                  row.name
                }}
              </template>
            </ElTableColumn>
            <ElTableColumn label="planned" prop="planned" min-width="112" />
            <ElTableColumn label="done" min-width="124">
              <template #default="{ row }">
                <span class="number">
                  <template v-for="(k, n) in row.done as Knob[]" :key="n"
                    ><component :is="k.other ? 'b' : 'span'">{{ k.words }}</component
                    >{{ n < row.done.length - 1 ? ', ' : '' }}</template
                  >
                  <small class="aside">{{ row.aside }}</small>
                </span>
              </template>
            </ElTableColumn>
          </ElTable>
          <p v-if="view.told.wrong.length" class="small">
            Gone wrong: {{ view.told.wrong.length === 1 ? 'copy' : 'copies' }}
            {{ view.told.wrong.join(', ') }}.
          </p>
        </section>
      </div>
      <div class="half">
        <section v-if="view.told.troubles.length" aria-label="Problems">
          <h3>Problems</h3>
          <p v-for="words in troubles" :key="words" class="small">{{ words }}</p>
        </section>
        <section v-if="view.taught.length" aria-label="What it taught" data-test="taught">
          <h3>What it taught</h3>
          <p v-for="t in view.taught" :key="t.trials[0]" class="small">
            {{ t.words }}
            <span class="acts">
              <ElButton text size="small" class="back" data-test="take-back" @click="takeBack(t)">{{
                t.counts ? 'Undo' : 'Count again'
              }}</ElButton>
              <RouterLink :to="{ name: 'notebook', params: { what: 'paint', id: t.paint } }"
                >all of {{ t.paint_name }}</RouterLink
              ></span
            >
          </p>
        </section>
        <PhotoStrip
          :session="id"
          :photos="view.photos"
          @changed="load().then(() => emit('changed'))"
        />
        <section aria-label="Your notes">
          <h3>Your notes</h3>
          <div class="rating">
            <ElRate
              :model-value="rating ?? 0"
              :icons="[DotIcon, DotIcon, DotIcon]"
              :void-icon="DotIcon"
              clearable
              aria-label="Rating"
              data-test="rating"
              @update:model-value="rate"
            />
          </div>
          <ElInput
            v-model="note"
            type="textarea"
            :autosize="{ minRows: 2, maxRows: 8 }"
            maxlength="4000"
            aria-label="Your notes"
            placeholder="What to keep in mind the next time"
            data-test="note"
            @change="mark"
          />
        </section>
      </div>
    </div>
    <p v-else-if="!problem" class="small">Opening …</p>
    <footer v-if="view">
      <template v-if="view.has_plan">
        <ElButton type="primary" data-test="again" @click="again = true">Repeat</ElButton>
        <ElButton data-test="as-it-was" @click="router.push(placeThen(id, 'coats'))"
          >Open as it was that day</ElButton
        >
      </template>
      <ElButton
        v-if="view.plan_exists"
        tag="a"
        :href="`/api/plans/${view.line.plan}/plan.haze`"
        download
        >Export</ElButton
      >
      <ElButton text data-test="away" @click="away">Delete</ElButton>
    </footer>
    <AgainDialog
      v-if="view?.has_plan"
      v-model="again"
      :session="id"
      :name="view.line.name"
      :copies="view.told.copies"
    />
  </aside>
</template>

<style scoped>
.session {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.told {
  flex: 1;
  min-height: 0;
  display: grid;
  align-content: start;
  gap: 10px 28px;
  overflow-y: auto;
}
.half {
  display: grid;
  align-content: start;
  min-width: 0;
  gap: 10px;
}
.card {
  display: grid;
  place-items: center;
  height: 200px;
  border-radius: var(--round);
  background: var(--card);
  overflow: hidden;
}
.card img {
  width: 100%;
  height: 200px;
  object-fit: contain;
}
.card small {
  color: var(--on-card);
}
section {
  display: grid;
  gap: 6px;
}
.aside {
  display: block;
}
.chip {
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-right: 6px;
  border-radius: 3px;
  box-shadow: inset 0 0 0 1px rgb(0 0 0 / 20%);
}
.rating {
  --el-rate-fill-color: var(--ink);
  --el-rate-void-color: var(--well-2);
}
a {
  color: var(--ink);
}
.acts a {
  display: flex;
  align-items: center;
  min-height: var(--control);
}
.acts {
  display: flex;
  align-items: center;
  gap: 8px;
}
.back.el-button {
  height: auto;
  padding: 2px 4px;
}
footer {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
footer .el-button {
  margin: 0;
}
@media print {
  footer {
    display: none;
  }
}
@media (min-width: 1700px) {
  .told {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .card,
  .card img {
    height: 260px;
  }
}
</style>
