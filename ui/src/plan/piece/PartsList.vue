<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';

import { api, sentence, take, type PartAdvice, type Part, type PartView } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals, share } from '@/displays/format';
import NameField from '@/fields/NameField.vue';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';

const store = usePlan();
/** What was worked out may lag behind the plan: names and states are the plan's own. */
const parts = computed<(Pick<PartView, 'part'> & Partial<PartView>)[]>(() => {
  const worked = store.workings?.parts ?? [];
  const own = store.plan?.piece.parts ?? [];
  if (!own.length) return worked;
  return own.map((part) => ({ ...worked.find((v) => v.part.id === part.id), part }) as PartView);
});
const chosen = ref<string[]>([]);
const level = ref(50);
const problem = ref('');
const advice = ref<PartAdvice[] | null>(null);
const { job, problem: adviceProblem, run } = useJob<{ advice: PartAdvice[] }>();

const STATES: { id: Part['state']; label: string }[] = [
  { id: 'attached', label: 'attached' },
  { id: 'tacked', label: 'tacked' },
  { id: 'held_off', label: 'held off' },
];
const STATE_WORDS: Record<Part['state'], string> = {
  attached: 'glued on: blocks light and spray',
  tacked: 'throws its shadow, lifted off for spraying',
  held_off: 'painted on its own',
};

/** What the advice depends on; it is asked for anew when that changes. */
const situation = computed(() => {
  const p = store.plan?.piece;
  const w = store.workings;
  return p && w ? JSON.stringify([w.piece, p.height_mm, p.blocked]) : '';
});
watch(
  situation,
  async (now) => {
    const plan = store.plan;
    if (!now || !plan) return;
    advice.value = null;
    const found = await run(
      () => take(api.POST('/api/parts/advice', { body: { plan } })),
      (id) => take(api.GET('/api/parts/advice/{job_id}', { params: { path: { job_id: id } } })),
    );
    if (found && situation.value === now) advice.value = found.advice;
  },
  { immediate: true },
);
onBeforeUnmount(() => (store.shownPart = null));

/** The parts as they stand become the plan's own as soon as one of them is changed. */
function all(): Part[] {
  return parts.value.map((v) => v.part);
}
function save(reason: string, next: Part[]): Promise<void> {
  return store.change(reason, (plan) => (plan.piece.parts = next));
}
function setState(id: string, state: Part['state']): void {
  const words = STATES.find((s) => s.id === state)!.label;
  const name = all().find((p) => p.id === id)?.name;
  void save(
    `${name} ${words}`,
    all().map((p) => (p.id === id ? { ...p, state } : p)),
  );
}
function rename(id: string, name: string): void {
  const old = all().find((p) => p.id === id)?.name ?? '';
  void save(
    `${old} renamed`,
    all().map((p) => (p.id === id ? { ...p, name } : p)),
  );
}
const canMerge = computed(() => {
  const picked = all().filter((p) => chosen.value.includes(p.id));
  return picked.length > 1 && picked.every((p) => !p.cuts?.length);
});
function merge(): void {
  const picked = all().filter((p) => chosen.value.includes(p.id));
  const [first] = picked;
  if (!first) return;
  const joined = { ...first, bodies: picked.flatMap((p) => p.bodies) };
  void save(
    `${picked.map((p) => p.name).join(', ')} merged`,
    all().flatMap((p) => (p.id === first.id ? [joined] : chosen.value.includes(p.id) ? [] : [p])),
  );
  chosen.value = [];
}
const only = computed(() => (chosen.value.length === 1 ? chosen.value[0]! : null));
const bodies = computed(() => all().find((p) => p.id === only.value)?.bodies.length ?? 0);
async function split(way: 'bodies' | 'level'): Promise<void> {
  const plan = store.plan;
  const name = all().find((p) => p.id === only.value)?.name;
  if (!plan || !only.value) return;
  problem.value = '';
  try {
    const found = await take(
      api.POST('/api/parts/split', {
        body: { plan, part: only.value, way, at: level.value / 100 },
      }),
    );
    // what is chosen while the save is on its way stays chosen
    chosen.value = [];
    await save(`${name} split`, found.parts);
  } catch (error) {
    problem.value = sentence(error);
  }
}
function asTheyFall(): void {
  void save('Parts as the bodies fall', []);
  chosen.value = [];
}
</script>

<template>
  <section aria-label="Parts" data-test="parts">
    <h3>Parts</h3>
    <table>
      <thead>
        <tr class="small">
          <th><span class="visually-hidden">choose</span></th>
          <th>part</th>
          <th class="number">cm²</th>
          <th class="number">reach</th>
          <th>how it stands</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(v, i) in parts"
          :key="v.part.id"
          @mouseenter="store.shownPart = parts.length > 1 ? i : null"
          @mouseleave="store.shownPart = null"
        >
          <td class="pick">
            <input
              v-model="chosen"
              type="checkbox"
              :value="v.part.id"
              :aria-label="`Choose ${v.part.name}`"
            />
          </td>
          <td>
            <NameField
              class="quiet"
              :model-value="v.part.name"
              :label="`Name of ${v.part.name}`"
              @update:model-value="rename(v.part.id, $event)"
              @focus="store.shownPart = parts.length > 1 ? i : null"
              @blur="store.shownPart = null"
            />
          </td>
          <td class="number">{{ v.area_cm2 === undefined ? '…' : decimals(v.area_cm2, 1) }}</td>
          <td class="number">
            {{ v.reachable_share === undefined ? '…' : share(v.reachable_share) }}
          </td>
          <td>
            <select
              :value="v.part.state"
              :aria-label="`${v.part.name}: how it stands`"
              :title="STATE_WORDS[v.part.state ?? 'attached']"
              @change="
                setState(v.part.id, ($event.target as HTMLSelectElement).value as Part['state'])
              "
            >
              <option v-for="s in STATES" :key="s.id" :value="s.id">{{ s.label }}</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="chosen.length" class="tools">
      <button v-if="canMerge" class="quiet-button" type="button" @click="merge">
        Merge {{ chosen.length }}
      </button>
      <template v-if="only">
        <button v-if="bodies > 1" class="quiet-button" type="button" @click="split('bodies')">
          Split into its {{ bodies }} bodies
        </button>
        <span class="level">
          <NumberField v-model="level" label="Level cut at" unit="% of height" :min="1" :max="99" />
          <button class="quiet-button" type="button" @click="split('level')">Cut</button>
        </span>
      </template>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <button
      v-if="store.plan?.piece.parts?.length"
      class="plain small link"
      type="button"
      @click="asTheyFall"
    >
      Parts as the bodies of the mesh fall
    </button>
    <div v-if="parts.length > 1" class="advice">
      <p v-if="job" class="small" role="status">{{ job.doing }} …</p>
      <p v-else-if="adviceProblem" class="note" role="alert">{{ adviceProblem }}</p>
      <template v-else-if="advice">
        <p v-if="!advice.length" class="small">
          Leaving any attached part off would gain next to nothing.
        </p>
        <ul v-else>
          <li v-for="a in advice.slice(0, 3)" :key="a.part">
            <span>{{ a.words }}</span>
            <button class="quiet-button" type="button" @click="setState(a.part, 'held_off')">
              Hold off
            </button>
          </li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  font-weight: 400;
  text-align: left;
}
td,
th {
  padding: 1px 6px 1px 0;
}
.number {
  text-align: right;
  white-space: nowrap;
}
.pick {
  width: 30px;
}
.pick input {
  width: 22px;
  height: 22px;
  accent-color: var(--strong);
}
.quiet:not(:hover, :focus) {
  border-color: transparent;
  background: none;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.level {
  display: flex;
  gap: 6px;
  align-items: end;
}
.link {
  text-decoration: underline;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 4px;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}
li .quiet-button {
  flex: none;
}
</style>
