<script setup lang="ts">
import { ElButton, ElDialog, ElSwitch } from 'element-plus';
import { ref, watch } from 'vue';

import { api, take, type CardPhotoView, type CardView } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import ChoiceField from '@/fields/ChoiceField.vue';

/** A card nobody sprayed, photographed by a camera that is not there: to try Cards without paint. */
const props = defineProps<{ cards: CardView[]; photos: CardPhotoView[] }>();
const emit = defineEmits<{ taken: [photo: CardPhotoView] }>();
const open = defineModel<boolean>({ required: true });
const FAULTS = [
  { id: 'none', label: 'a careful photo' },
  { id: 'dark', label: 'too dark' },
  { id: 'cropped', label: 'card cut off' },
  { id: 'bent', label: 'card bent' },
  { id: 'far', label: 'too far away' },
  { id: 'glare', label: 'a lamp mirrored' },
  { id: 'uneven', label: 'in half shadow' },
  { id: 'blurred', label: 'out of focus' },
  { id: 'shaken', label: 'shaken' },
  { id: 'steep', label: 'from too far aside' },
] as const;
type Fault = (typeof FAULTS)[number]['id'];
const number = ref('');
const fault = ref<Fault>('none');
const framed = ref(true);
const even = ref(true);
const { problem, busy, attempt } = useAttempt();
watch(open, (now) => {
  if (now && !number.value) number.value = String(props.cards[0]?.number ?? '');
});
function shoot(): Promise<void> {
  return attempt(async () => {
    const before = props.photos.filter((p) => p.card?.number === Number(number.value));
    const photo = await take(
      api.POST('/api/cards/{number}/stand-in', {
        params: { path: { number: Number(number.value) } },
        body: {
          fault: fault.value === 'none' ? null : fault.value,
          framed: framed.value,
          even: even.value,
          off: true,
          seed: before.length,
        },
      }),
    );
    open.value = false;
    emit('taken', photo as CardPhotoView);
  });
}
</script>

<template>
  <ElDialog v-model="open" title="Simulated photo" width="min(520px, 94vw)" append-to-body>
    <p v-if="!cards.length" class="note">Print a card first: the photo is of that card.</p>
    <div v-else class="fields">
      <ChoiceField
        v-model="number"
        label="Card"
        :choices="
          cards.map((c) => ({
            id: String(c.number),
            label: c.spoken,
            more: `${c.paint} · ${c.setting}`,
          }))
        "
      />
      <ChoiceField v-model="fault" label="Taken" :choices="[...FAULTS]" />
      <label><ElSwitch v-model="framed" /> cover frame on the card</label>
      <label><ElSwitch v-model="even" /> an even hand</label>
    </div>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <p class="small">
      The airbrush it is sprayed with differs a little from the tables, as every one does. The photo
      says that it is simulated.
    </p>
    <template #footer>
      <ElButton
        type="primary"
        :disabled="!cards.length"
        :loading="busy"
        data-test="shoot"
        @click="shoot"
        >{{ busy ? 'Spraying and photographing …' : 'Take the photo' }}</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 12px;
}
label {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: var(--control);
}
</style>
