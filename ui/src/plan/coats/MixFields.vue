<script setup lang="ts">
import { ElButton, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { api, take, type MixLook, type MixPart } from '@/api/client';
import { FINISHES, MOST } from '@/craft.generated';
import { useLatest } from '@/composables/use-latest';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';
import PaintField from '@/fields/PaintField.vue';

/** The coat's cup by drops, and how that mix looks over dark, mid and light, dry and wet. */
const store = usePlan();
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
  [parts, () => store.coatWorkings?.spray.dry_film_um],
  () => {
    if (parts.value.length) looking.push(parts.value);
  },
  { immediate: true },
);

function passes(count: number | null): string {
  return count === null ? 'never' : `${count} ${count === 1 ? 'pass' : 'passes'}`;
}
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
</script>

<template>
  <div class="mix">
    <div v-for="(p, i) in parts" :key="p.paint.id" class="row">
      <NumberField
        :label="`Drops of ${p.paint.name}`"
        :min="1"
        :max="MOST.drops"
        :model-value="p.drops ?? 1"
        @update:model-value="drops(i, $event)"
      />
      <ElButton
        :disabled="parts.length < 2"
        :aria-label="`Take ${p.paint.name} out`"
        @click="set(parts.filter((_, j) => j !== i))"
      >
        Out
      </ElButton>
    </div>
    <PaintField
      v-if="parts.length < MOST.paints"
      label="Add a paint to the mix"
      hide-label
      placeholder="Add a paint to the mix …"
      :paint="null"
      :without="parts.map((p) => p.paint.id)"
      @chosen="(paint) => set([...parts, { paint, drops: 1 }])"
    />
    <ElTable v-if="look" :data="look.grounds" aria-label="How it looks">
      <ElTableColumn label="over" prop="ground" width="60" />
      <ElTableColumn label="dry" width="72">
        <template #default="{ row }">
          <i :class="row.ground" :style="{ '--paint': row.dry }" />
        </template>
      </ElTableColumn>
      <ElTableColumn label="wet" width="72">
        <template #default="{ row }">
          <i :class="row.ground" :style="{ '--paint': row.wet }" />
        </template>
      </ElTableColumn>
      <ElTableColumn label="to its own colour">
        <template #default="{ row }">{{ passes(row.passes) }}</template>
      </ElTableColumn>
    </ElTable>
    <p v-if="look" class="small">
      Dries {{ FINISHES[look.finish as keyof typeof FINISHES] }}; shown at 6 µm, passes at this
      coat's setting.
    </p>
  </div>
</template>

<style scoped>
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
  outline: 1px solid var(--hair);
}
</style>
