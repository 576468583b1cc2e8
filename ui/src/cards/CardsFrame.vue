<script setup lang="ts">
import { ElButton, ElSegmented } from 'element-plus';
import { computed, onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';

import TrashDialog from '@/displays/TrashDialog.vue';

import type { CardsTrash, Shown } from './use-cards-trash';

/** What all of Cards stands in: what to do, its tools, a sheet to look at and one that tells. */
const props = defineProps<{
  seen: string;
  problem: string;
  trash?: CardsTrash;
  shown?: Shown | null;
}>();
const OPTIONS = [
  { label: 'Read', value: 'cards' },
  { label: 'Practise', value: 'practice' },
  { label: 'Compare', value: 'compare' },
];
const route = useRoute();
const router = useRouter();
const open = ref(false);
const things = computed(() => props.trash?.things.value ?? []);
const wrong = computed(() => props.problem || (props.trash?.problem.value ?? ''));
onMounted(() => props.trash?.load());
</script>

<template>
  <div class="cards">
    <section class="sheet seen" :aria-label="seen">
      <header>
        <h1>Cards</h1>
        <ElSegmented
          :model-value="String(route.name)"
          :options="OPTIONS"
          size="small"
          aria-label="What to do with cards"
          data-test="cards-tabs"
          @change="(name: string) => router.push({ name })"
        />
        <span class="push" />
        <slot name="tools" />
      </header>
      <p v-if="wrong" class="note stop" role="alert">{{ wrong }} <slot name="mend" /></p>
      <slot />
      <footer v-if="$slots.foot || things.length">
        <slot name="foot"><span class="push" /></slot>
        <ElButton
          v-if="trash && shown"
          text
          :disabled="trash.busy.value"
          data-test="put-away"
          @click="trash.away(shown)"
          >Delete</ElButton
        >
        <ElButton v-if="things.length" text data-test="cards-trash" @click="open = true"
          >Trash ({{ things.length }})</ElButton
        >
      </footer>
    </section>
    <aside class="sheet told" aria-label="What it tells"><slot name="told" /></aside>
    <TrashDialog
      v-if="trash"
      v-model="open"
      title="Trash of the cards"
      :things="things"
      :busy="trash.busy.value"
      warning="Photos in the trash are deleted permanently. What they taught stays, and so do the plans."
      @back="trash.back"
      @empty="trash.empty"
    />
  </div>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: minmax(0, 1fr) clamp(320px, 31%, 440px);
  height: 100%;
  min-height: 0;
  padding: 12px;
  gap: 10px;
}
.seen {
  display: flex;
  flex-direction: column;
  min-height: 0;
  gap: 12px;
}
.seen > :deep(.plate) {
  flex: 1;
}
header,
footer {
  display: flex;
  align-items: center;
  gap: 12px;
}
header {
  flex-wrap: wrap;
}
footer {
  min-height: 34px;
}
.push,
footer > :deep(.push) {
  flex: 1;
}
.told {
  display: flex;
  flex-direction: column;
  overflow-y: auto;
  gap: 16px;
}
@media (max-width: 900px) {
  .cards {
    grid-template-columns: minmax(0, 1fr);
    grid-auto-rows: max-content;
    overflow-y: auto;
  }
  .seen,
  .told {
    overflow: visible;
  }
  .seen > :deep(.plate) {
    flex: none;
    height: 60vh;
  }
}
</style>
