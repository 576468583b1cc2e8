<script setup lang="ts">
import { ElButton, ElDialog, ElRadioButton, ElRadioGroup } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { api, take, type CardView, type MixPart, type TurnedBody } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';

/** A card for a setting: looked at, then printed with its cover frame. */
const props = defineProps<{
  asked: TurnedBody | null;
  parts?: MixPart[];
  title?: string;
  where?: { plan: string; step: string } | null;
  /** Whether five cards that map the window are offered too. */
  drills?: boolean;
}>();
const emit = defineEmits<{ made: [] }>();
const open = defineModel<boolean>({ required: true });
const cards = ref<CardView[]>([]);
const card = computed(() => cards.value[0] ?? null);
const printed = computed(() =>
  cards.value.length > 1
    ? `/api/cards/sheets.pdf?${cards.value.map((c) => `numbers=${c.number}`).join('&')}&paper=${paper.value}`
    : `/api/cards/${card.value?.number}/card.pdf?paper=${paper.value}`,
);
const paper = ref<'a4' | 'letter'>('a4');
const { problem, busy, attempt } = useAttempt();

watch(open, (now) => {
  if (!now) return;
  cards.value = [];
  problem.value = '';
});
const body = () => {
  const { title = '', parts = [], where } = props;
  return {
    ...props.asked!,
    parts,
    title,
    plan: where?.plan ?? null,
    step: where?.step ?? null,
  };
};
/** Each print is a card with a number of its own: that is how its photo is told from others. */
function make(): Promise<void> {
  return attempt(async () => {
    cards.value = [await take(api.POST('/api/cards', { body: body() }))];
    emit('made');
  });
}
function makeDrill(): Promise<void> {
  return attempt(async () => {
    cards.value = (await take(api.POST('/api/cards/drill', { body: body() }))).cards;
    emit('made');
  });
}
</script>

<template>
  <ElDialog v-model="open" title="Print a card" width="min(760px, 94vw)" append-to-body>
    <slot v-if="!card" />
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <template v-if="card && cards.length > 1">
      <p>
        Five cards that map the window of {{ card.paint }} through {{ card.airbrush }}: chosen so
        that their looks together tell most. Some will not come out well; that is what they are for.
      </p>
      <ol class="drill" data-test="drill-cards">
        <li v-for="c in cards" :key="c.number">
          <b>{{ c.spoken }}</b> · {{ c.setting }}
        </li>
      </ol>
    </template>
    <template v-else-if="card">
      <p>
        <b>Card {{ card.spoken }}</b> · {{ card.paint }} through {{ card.airbrush }} ·
        {{ card.setting }}<template v-if="card.dark"> · on black, for a light paint</template>
      </p>
      <img
        class="card"
        :src="`/api/cards/${card.number}/card.svg`"
        :alt="`Trial card ${card.spoken}`"
      />
    </template>
    <template v-if="card">
      <p class="small">
        Spray through the cover frame, let it dry, lay it flat and photograph it from above. Gloves
        on; mask and extraction as for a piece.
      </p>
    </template>
    <template #footer>
      <div class="foot">
        <ElRadioGroup v-model="paper" aria-label="Paper" size="small">
          <ElRadioButton value="a4">A4</ElRadioButton>
          <ElRadioButton value="letter">Letter</ElRadioButton>
        </ElRadioGroup>
        <span class="push" />
        <ElButton
          v-if="!card && drills"
          :disabled="!asked"
          :loading="busy"
          data-test="make-drill"
          @click="makeDrill"
          >Five that map the window</ElButton
        >
        <ElButton
          v-if="!card"
          type="primary"
          :disabled="!asked"
          :loading="busy"
          data-test="make-card"
          @click="make"
          >Make the card</ElButton
        >
        <ElButton v-else type="primary" tag="a" :href="printed" target="_blank" data-test="card-pdf"
          >Open to print</ElButton
        >
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.card {
  display: block;
  max-width: 100%;
  max-height: 44vh;
  margin: 0 auto;
  border-radius: 6px;
  background: #fff;
}
.drill {
  margin: 8px 0;
  line-height: 1.7;
}
.foot {
  display: flex;
  align-items: center;
  gap: 8px;
}
.push {
  flex: 1;
}
</style>
