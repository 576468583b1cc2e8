<script setup lang="ts">
import { computed, ref, watch } from 'vue';

import { api, take, type MixLook, type MixPart } from '@/api/client';
import { FINISHES, MOST } from '@/craft.generated';
import { useLatest } from '@/composables/use-latest';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

/** The coat's cup by drops, and how that mix looks over dark, mid and light, dry and wet. */
const store = usePlan();
const shelf = useShelf();
const open = ref(false);
const look = ref<MixLook | null>(null);

const parts = computed<MixPart[]>(() =>
  store.coat
    ? [{ paint: store.coat.paint, drops: store.coat.drops ?? 1 }, ...(store.coat.also ?? [])]
    : [],
);
const looking = useLatest<MixPart[]>(
  async (wanted) => {
    const passUm = store.coatWorkings?.spray.dry_film_um ?? 3;
    look.value = await take(
      api.POST('/api/shelf/mix', { body: { parts: wanted, pass_um: Math.max(passUm, 0.05) } }),
    );
  },
  () => (look.value = null),
);
watch(
  [parts, open, () => store.coatWorkings?.spray.dry_film_um],
  () => {
    if (open.value && parts.value.length) looking.push(parts.value);
  },
  { immediate: true },
);

function name(mix: MixPart[]): string {
  const names = mix.map((p) => p.paint.name).join(' + ');
  return (mix.length > 1 ? `${names} ${mix.map((p) => p.drops).join(':')}` : names).slice(0, 120);
}
function set(mix: MixPart[]): void {
  const [first, ...also] = mix;
  if (!first) return;
  void store.changeCoat(`Mixed ${name(mix)}`, (coat) => {
    coat.paint = first.paint;
    coat.drops = also.length ? first.drops : 1;
    coat.also = also;
    coat.name = name(mix);
  });
}
function drops(at: number, count: number): void {
  set(parts.value.map((p, i) => (i === at ? { ...p, drops: Math.round(count) } : p)));
}
function add(event: Event): void {
  const choice = event.target as HTMLSelectElement;
  const paint = shelf.shelf.paints.find((p) => p.id === choice.value);
  choice.value = '';
  if (paint) set([...parts.value, { paint, drops: 1 }]);
}
const others = computed(() =>
  shelf.shelf.paints.filter((p) => !parts.value.some((m) => m.paint.id === p.id)),
);
</script>

<template>
  <details :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary data-test="by-drops">By drops, over dark and light</summary>
    <div v-if="open" class="mix">
      <div v-for="(p, i) in parts" :key="p.paint.id" class="row">
        <NumberField
          :label="`Drops of ${p.paint.name}`"
          :min="1"
          :max="MOST.drops"
          :model-value="p.drops ?? 1"
          @update:model-value="drops(i, $event)"
        />
        <button
          class="quiet-button"
          type="button"
          :disabled="parts.length < 2"
          :aria-label="`Take ${p.paint.name} out`"
          @click="set(parts.filter((_, j) => j !== i))"
        >
          Out
        </button>
      </div>
      <select v-if="parts.length < MOST.paints" aria-label="Add a paint to the mix" @change="add">
        <option value="">Add a paint to the mix …</option>
        <option v-for="p in others" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
      <table v-if="look" aria-label="How it looks">
        <thead>
          <tr class="small">
            <th>over</th>
            <th>dry</th>
            <th>wet</th>
            <th>to its own colour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in look.grounds" :key="g.ground">
            <td>{{ g.ground }}</td>
            <td><i :class="g.ground" :style="{ '--paint': g.dry }" /></td>
            <td><i :class="g.ground" :style="{ '--paint': g.wet }" /></td>
            <td class="number">
              {{
                g.passes === null ? 'never' : `${g.passes} ${g.passes === 1 ? 'pass' : 'passes'}`
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="look" class="small">
        Dries {{ FINISHES[look.finish as keyof typeof FINISHES] }}; shown at 6 µm, passes at this
        coat's setting.
      </p>
    </div>
  </details>
</template>

<style scoped>
summary {
  min-height: 32px;
  cursor: pointer;
  font-size: var(--f14);
  text-decoration: underline;
}
.mix {
  display: grid;
  gap: 8px;
}
.row {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: end;
}
th {
  font-weight: 400;
  text-align: left;
}
td {
  padding: 2px 10px 2px 0;
}
i {
  display: block;
  width: 56px;
  height: 28px;
  border: 6px solid;
  background: var(--paint);
}
.dark {
  border-color: #17181a;
}
.mid {
  border-color: #77787a;
}
.light {
  border-color: #f3f2ec;
  outline: 1px solid var(--line);
}
</style>
