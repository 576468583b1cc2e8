<script setup lang="ts">
import { ElButton, ElCollapse, ElCollapseItem } from 'element-plus';
import { computed, onMounted, ref, watch } from 'vue';

import { api, sentence, take, type PaintOnShelf, type StrengthOut } from '@/api/client';
import ColourField from '@/fields/ColourField.vue';
import { decimals } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';
import PhotoPick from '@/colour/PhotoPick.vue';
import { useShelf } from '@/stores/shelf';
import ChoiceField from '@/fields/ChoiceField.vue';

/** How strongly a paint colours, from one mix with white that the painter let dry. */
const props = defineProps<{ paint: PaintOnShelf }>();
const emit = defineEmits<{ found: [strength: number] }>();
const shelf = useShelf();
const white = ref('');
const paintDrops = ref(1);
const whiteDrops = ref(4);
const colour = ref(props.paint.masstone);
const found = ref<StrengthOut | null>(null);
const problem = ref('');

const whites = computed(() =>
  shelf.shelf.paints
    .filter((p) => p.id !== props.paint.id && p.opacity === 'opaque')
    .sort((a, b) => Number(b.kind === 'white') - Number(a.kind === 'white')),
);
onMounted(async () => {
  await shelf.load().catch((error: unknown) => (problem.value = sentence(error)));
  white.value ||= whites.value[0]?.id ?? '';
});
watch([white, paintDrops, whiteDrops, colour, () => props.paint.id], () => {
  found.value = null;
  problem.value = '';
});

async function learn(): Promise<void> {
  const other = shelf.shelf.paints.find((p) => p.id === white.value);
  if (!other) return;
  problem.value = '';
  try {
    found.value = await take(
      api.POST('/api/shelf/strength', {
        body: {
          paint: { ...props.paint, name: props.paint.name.trim() || 'New paint' },
          white: other,
          paint_drops: paintDrops.value,
          white_drops: whiteDrops.value,
          colour: colour.value,
        },
      }),
    );
    emit('found', found.value.strength);
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <ElCollapse class="strength" data-test="strength">
    <ElCollapseItem
      name="test"
      :title="`How strongly it colours: ${decimals(paint.strength ?? 1, 2)} × usual`"
    >
      <div class="test">
        <p class="small">
          Mix it with white, lay it thick, let it dry, and pick its colour. One mix is enough.
        </p>
        <div class="pair">
          <NumberField
            label="Drops of this"
            unit=""
            :min="1"
            :max="40"
            :model-value="paintDrops"
            @update:model-value="paintDrops = Math.round($event)"
          />
          <NumberField
            label="Drops of white"
            unit=""
            :min="1"
            :max="40"
            :model-value="whiteDrops"
            @update:model-value="whiteDrops = Math.round($event)"
          />
        </div>
        <ChoiceField
          v-model="white"
          label="White"
          :choices="whites.map((w) => ({ id: w.id, label: w.name, chip: w.masstone }))"
        />
        <ColourField v-model="colour" label="Colour of the dry mix" />
        <PhotoPick @picked="colour = $event" />
        <ElButton :disabled="!white" @click="learn"> Learn from this mix </ElButton>
        <p v-if="problem" class="note" role="alert">{{ problem }}</p>
        <div v-if="found" role="status">
          <p class="note">{{ found.words }}</p>
          <ul class="mixes">
            <li><i :style="{ background: found.before }" /> as it was predicted</li>
            <li><i :style="{ background: colour }" /> as you saw it</li>
            <li><i :style="{ background: found.after }" /> as it is predicted now</li>
          </ul>
        </div>
      </div>
    </ElCollapseItem>
  </ElCollapse>
</template>

<style scoped>
.test {
  display: grid;
  gap: 10px;
}
.mixes {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
  font-size: var(--f14);
}
.mixes i {
  display: block;
  height: 36px;
  border: 1px solid var(--hair);
}
</style>
