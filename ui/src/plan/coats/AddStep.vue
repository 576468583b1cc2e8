<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElOption, ElOptionGroup, ElSelect } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { api, sentence, take, type Aim, type Coat, type HandStep, type Step } from '@/api/client';
import { AIMS, BY_HAND, MASKS, OPACITIES, SPRAYED, ZONES } from '@/craft.generated';
import { Frame } from '@/instruments/piece/frame';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

/** Adds a step above the selected one: sprayed, by brush, a mask or a rest. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();
const shelf = useShelf();
const busy = ref(false);
const problem = ref('');
const role = ref('spray:light');
const paintId = ref('');
const way = ref<'sweep' | Aim['field']>('sweep');
const part = ref('');
const mask = ref<HandStep['mask']>('tape');
const minutes = ref(60);

const task = computed(() => SPRAYED.find((t) => `spray:${t.id}` === role.value) ?? null);
const hand = computed(() => BY_HAND.find((h) => `hand:${h.id}` === role.value) ?? null);
const needsPaint = computed(() => task.value !== null || hand.value?.paint === true);
const parts = computed(() => store.workings?.parts.map((v) => v.part) ?? []);
const glows = computed(() => store.plan?.lights?.filter((l) => l.kind === 'glow') ?? []);
const masks = computed(() => hand.value?.id === 'mask_on');
/** The zones of the masks that lie when this step comes, so that each can be taken off. */
const lying = computed(() =>
  (store.plan?.coats ?? [])
    .slice(0, store.after)
    .filter((s): s is HandStep => s.kind === 'hand' && s.role === 'mask_on' && !s.off),
);
const taken = ref('');
const reversed = ref(false);
const ways = computed(() => [
  ...(masks.value
    ? []
    : [{ id: 'sweep', label: task.value ? 'Swept over the whole silhouette' : 'All over' }]),
  ...(Object.entries(AIMS) as [Aim['field'], string][])
    .filter(([id]) => id !== 'glow' || glows.value.length)
    .map(([id, aimed]) => {
      const label = masks.value ? ZONES[id] : aimed;
      return { id, label: label.charAt(0).toUpperCase() + label.slice(1) };
    }),
]);
/** The paints that fit what it is for; any, where nothing is asked. */
const paints = computed(() => {
  const fits = task.value;
  return shelf.shelf.paints.filter(
    (p) =>
      (!fits?.kinds.length || fits.kinds.includes(p.kind)) &&
      (!fits?.finishes.length || fits.finishes.includes(p.finish)),
  );
});
watch([role, open], () => {
  problem.value = '';
  if (!paints.value.some((p) => p.id === paintId.value)) paintId.value = '';
  if (paints.value.length === 1) paintId.value = paints.value[0]!.id;
  if (masks.value && way.value === 'sweep') way.value = 'part';
  taken.value = '';
  if (task.value?.id === 'glow' && glows.value.length) way.value = 'glow';
});
const wayWords = computed(() =>
  masks.value ? 'Over what' : task.value ? 'How it is sprayed' : 'Where it goes',
);
const ready = computed(
  () =>
    (!needsPaint.value || paintId.value !== '') &&
    (!masks.value || way.value !== 'part' || part.value !== ''),
);

/** The aim a new step starts with; a ramp stands upright until it is drawn anew. */
function aimOf(field: Aim['field']): Aim {
  const work = store.workings!;
  const frame = new Frame(work.frame);
  const tall = (store.plan!.piece.height_mm * work.units_per_mm) / 2;
  return {
    field,
    passes: 2,
    reversed: false,
    margin_mm: 2,
    start: field === 'ramp' ? frame.toFile([0, 0, -tall]) : null,
    end: field === 'ramp' ? frame.toFile([0, 0, tall]) : null,
    light: field === 'glow' ? (glows.value[0]?.id ?? null) : null,
    part: field === 'part' ? part.value || (work.parts[0]?.part.id ?? null) : null,
  };
}

function sprayed(id: string): Promise<Coat> {
  return take(
    api.POST('/api/coats/draft', {
      body: {
        plan: store.plan!,
        id,
        task: task.value!.id,
        paint: paints.value.find((p) => p.id === paintId.value)!,
        after: store.after,
        thinner: null,
        aim: way.value === 'sweep' || !store.workings ? null : aimOf(way.value),
      },
    }),
  );
}
function byHand(id: string): HandStep {
  const paint = paints.value.find((p) => p.id === paintId.value) ?? null;
  const chosen = hand.value!;
  const off = chosen.id === 'mask_off' ? lying.value.find((m) => m.id === taken.value) : undefined;
  return {
    kind: 'hand',
    id,
    name: chosen.paint && paint ? paint.name : masks.value ? maskName() : chosen.label,
    role: chosen.id,
    off: false,
    note: '',
    paint: chosen.paint ? paint : null,
    strength: 0.6,
    ...place(chosen),
    mask: off?.mask ?? mask.value,
    minutes: chosen.id === 'rest' ? minutes.value : null,
  };
}
function maskName(): string {
  const named = parts.value.find((p) => p.id === part.value)?.name ?? 'a part';
  const where = way.value === 'part' ? named : ZONES[way.value as Aim['field']];
  return `Mask over ${reversed.value ? 'all but ' : ''}${where.toLowerCase()}`;
}
/** What a step by hand goes over: a mask its part or a zone, a brush a zone of a part. */
function place(chosen: { id: HandStep['role']; paint: boolean }): Pick<HandStep, 'part' | 'aim'> {
  if (chosen.id === 'mask_off') {
    const off = lying.value.find((m) => m.id === taken.value);
    return { part: off?.part ?? null, aim: off?.aim ?? null };
  }
  if (chosen.id === 'mask_on' && way.value === 'part' && !reversed.value)
    return { part: part.value, aim: null };
  const aimed = (chosen.paint || chosen.id === 'mask_on') && way.value !== 'sweep';
  const aim = aimed && store.workings ? aimOf(way.value as Aim['field']) : null;
  if (aim && chosen.id === 'mask_on')
    Object.assign(aim, { reversed: reversed.value, margin_mm: 0 });
  return { part: chosen.id === 'mask_on' ? null : part.value || null, aim };
}
async function add(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const id = `c${Date.now().toString(36)}`;
    const step: Step = task.value ? await sprayed(id) : byHand(id);
    const at = store.after;
    const saved = store.change(`Added ${step.name}`, (draft) => draft.coats.splice(at, 0, step));
    store.selectCoat(at + 1);
    await saved;
    open.value = false;
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog v-model="open" title="Add a step" width="480px" append-to-body>
    <div class="form">
      <label>
        <span class="small">What it is for</span>
        <ElSelect v-model="role" aria-label="What it is for">
          <ElOptionGroup label="Sprayed">
            <ElOption v-for="t in SPRAYED" :key="t.id" :value="`spray:${t.id}`" :label="t.label" />
          </ElOptionGroup>
          <ElOptionGroup label="By hand">
            <ElOption v-for="h in BY_HAND" :key="h.id" :value="`hand:${h.id}`" :label="h.label" />
          </ElOptionGroup>
        </ElSelect>
      </label>
      <label v-if="needsPaint || masks">
        <span class="small">{{ wayWords }}</span>
        <ElSelect v-model="way" :aria-label="wayWords">
          <ElOption v-for="w in ways" :key="w.id" :value="w.id" :label="w.label" />
        </ElSelect>
      </label>
      <label v-if="hand?.id === 'mask_off'">
        <span class="small">Which mask</span>
        <ElSelect v-model="taken" aria-label="Which mask">
          <ElOption value="" label="All masks" />
          <ElOption v-for="m in lying" :key="m.id" :value="m.id" :label="m.name" />
        </ElSelect>
      </label>
      <label v-else-if="(needsPaint || masks) && way === 'part'">
        <span class="small">Which part</span>
        <ElSelect v-model="part" placeholder="Choose a part" aria-label="Which part">
          <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
      </label>
      <template v-if="masks">
        <ElCheckbox v-model="reversed">Everything but that</ElCheckbox>
        <label>
          <span class="small">With what</span>
          <ElSelect v-model="mask" aria-label="With what">
            <ElOption v-for="m in MASKS" :key="m.id" :value="m.id" :label="m.label">
              {{ m.label }} <small>{{ m.edge }}</small>
            </ElOption>
          </ElSelect>
        </label>
      </template>
      <NumberField
        v-if="hand?.id === 'rest'"
        label="How long"
        unit="min"
        :min="0"
        :max="20000"
        :model-value="minutes"
        @update:model-value="minutes = $event"
      />
      <label v-if="needsPaint">
        <span class="small">Paint</span>
        <ElSelect v-model="paintId" filterable placeholder="Choose a paint" aria-label="Paint">
          <ElOption v-for="p in paints" :key="p.id" :value="p.id" :label="p.name">
            <span class="option"
              ><i :style="{ background: p.masstone }" />{{ p.name }}
              <small>{{ p.maker }}, {{ OPACITIES[p.opacity] }}</small></span
            >
          </ElOption>
        </ElSelect>
        <small v-if="!paints.length"
          >Nothing on the shelf fits this; add it under Shelf first.</small
        >
      </label>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <ElButton type="primary" :disabled="!ready || busy" @click="add">
        {{ busy ? 'Finding a setting …' : `Add over ${store.step?.name ?? 'the bare surface'}` }}
      </ElButton>
    </div>
  </ElDialog>
</template>

<style scoped>
.form {
  display: grid;
  gap: 16px;
}
.form label:not(.el-checkbox) {
  display: grid;
  gap: 2px;
}
.option {
  display: flex;
  align-items: center;
  gap: 8px;
}
.option i {
  width: 20px;
  height: 20px;
  border: 1px solid var(--edge);
}
</style>
