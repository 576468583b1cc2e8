<script setup lang="ts">
import { ElButton, ElDialog, ElRadioButton, ElRadioGroup } from 'element-plus';
import { ref, watch } from 'vue';

import { api, take, type CardView, type MixPart, type TurnedBody } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';

/** A card for a setting: looked at, then printed with its cover frame. */
const props = defineProps<{
  asked: TurnedBody | null;
  parts?: MixPart[];
  title?: string;
  where?: { plan: string; step: string } | null;
}>();
const emit = defineEmits<{ made: [card: CardView] }>();
const open = defineModel<boolean>({ required: true });
const card = ref<CardView | null>(null);
const paper = ref<'a4' | 'letter'>('a4');
const { problem, busy, attempt } = useAttempt();

watch(open, (now) => {
  if (!now) return;
  card.value = null;
  problem.value = '';
});
/** Each print is a card with a number of its own: that is how its photo is told from others. */
function make(): Promise<void> {
  return attempt(async () => {
    const { title = '', parts = [], where } = props;
    card.value = await take(
      api.POST('/api/cards', {
        body: {
          ...props.asked!,
          parts,
          title,
          plan: where?.plan ?? null,
          step: where?.step ?? null,
        },
      }),
    );
    emit('made', card.value);
  });
}
</script>

<template>
  <ElDialog v-model="open" title="Print a card" width="min(760px, 94vw)" append-to-body>
    <slot v-if="!card" />
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <template v-if="card">
      <p>
        <b>Card {{ card.spoken }}</b> · {{ card.paint }} through {{ card.airbrush }} ·
        {{ card.setting }}<template v-if="card.dark"> · on black, for a light paint</template>
      </p>
      <img
        class="card"
        :src="`/api/cards/${card.number}/card.svg`"
        :alt="`Trial card ${card.spoken}`"
      />
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
          v-if="!card"
          type="primary"
          :disabled="!asked"
          :loading="busy"
          data-test="make-card"
          @click="make"
          >Make the card</ElButton
        >
        <ElButton
          v-else
          type="primary"
          tag="a"
          :href="`/api/cards/${card.number}/card.pdf?paper=${paper}`"
          target="_blank"
          data-test="card-pdf"
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
.foot {
  display: flex;
  align-items: center;
}
.push {
  flex: 1;
}
</style>
