<script setup lang="ts">
import { ElButton, ElSegmented, ElSkeleton } from 'element-plus';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';

import {
  api,
  sendPiecePhoto,
  take,
  type PiecePhotoView,
  type PlanSummary,
  type Unreadable,
} from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import { when } from '@/displays/format';
import UnreadableRows from '@/displays/UnreadableRows.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import PhotoButtons from '@/fields/PhotoButtons.vue';
import NumberField from '@/fields/NumberField.vue';
import { useSettings } from '@/stores/settings';

import CardsFrame from './CardsFrame.vue';
import ComparedRegions from './ComparedRegions.vue';
import MarkedPicture from './MarkedPicture.vue';
import PieceMarks from './PieceMarks.vue';
import { useCardsTrash } from './use-cards-trash';
import { useMarks } from './use-marks';

/** A photo of the painted piece beside its plan: the same places marked on both, then values. */
const settings = useSettings();
const plans = shallowRef<PlanSummary[] | null>(null);
const photos = shallowRef<PiecePhotoView[]>([]);
const unreadable = shallowRef<Unreadable[]>([]);
const photo = shallowRef<PiecePhotoView | null>(null);
const plan = ref('');
const marking = useMarks();
const { azimuth, elevation, ring, nextOnPlan, nextOnPhoto, planMarks, photoMarks } = marking;
/** Counts comparisons, so that what is laid over is drawn anew after each. */
const times = ref(0);
const laid = ref<'photo' | 'half' | 'plan'>('photo');
const drawn = ref(false);
const { problem, busy, attempt } = useAttempt();
const LAID = [
  { label: 'Photo', value: 'photo' },
  { label: 'Half', value: 'half' },
  { label: 'Plan', value: 'plan' },
];
const OVER = { photo: 0, half: 0.5, plan: 1 };

const simulated = computed(() => settings.values.devices === 'simulated');
const ofPlan = computed(() => photos.value.filter((p) => p.plan === plan.value));
const side = computed(
  () =>
    `/api/plans/${plan.value}/side.png?azimuth_deg=${azimuth.value}&elevation_deg=${elevation.value}`,
);
const told = computed(() => photo.value?.told ?? null);
const overUrl = computed(() =>
  told.value?.camera ? `/api/piece-photos/${photo.value?.id}/planned.png?n=${times.value}` : null,
);
const comparing = ref(false);
const todo = computed(() => {
  if (comparing.value) return 'Placing the plan over the photo …';
  return photo.value ? marking.todo.value : '';
});

async function loadPhotos(): Promise<void> {
  const kept = await take(api.GET('/api/piece-photos'));
  photos.value = kept.photos;
  unreadable.value = kept.unreadable;
}
onMounted(() =>
  attempt(async () => {
    const [all] = await Promise.all([take(api.GET('/api/plans')), loadPhotos()]);
    plans.value = all.plans;
    plan.value = photos.value[0]?.plan ?? all.plans[0]?.id ?? '';
  }),
);
watch(plan, () => {
  drawn.value = false;
  show(ofPlan.value[0] ?? null);
});
watch(side, () => (drawn.value = false));

function show(next: PiecePhotoView | null): void {
  photo.value = next;
  marking.show(next?.marks ?? null);
  laid.value = 'photo';
}
function keep(next: PiecePhotoView): void {
  photos.value = [next, ...photos.value.filter((p) => p.id !== next.id)];
}
const read = (file: Blob): Promise<void> =>
  attempt(async () => {
    const got = await sendPiecePhoto(plan.value, file);
    keep(got);
    show(got);
  });
const simulate = (): Promise<void> =>
  attempt(async () => {
    const got = await take(
      api.POST('/api/plans/{plan_id}/piece-stand-in', {
        params: { path: { plan_id: plan.value } },
        body: {
          azimuth_deg: azimuth.value,
          elevation_deg: elevation.value,
          reached: 0.4,
          seed: ofPlan.value.length,
        },
      }),
    );
    keep(got);
    show(got);
  });
const compare = (): Promise<void> =>
  attempt(async () => {
    const body = marking.body.value;
    if (!photo.value || !body) return;
    const path = { photo_id: photo.value.id };
    comparing.value = true;
    const got = await take(
      api.POST('/api/piece-photos/{photo_id}/compare', { params: { path }, body }),
    ).finally(() => (comparing.value = false));
    keep(got);
    photo.value = got;
    times.value += 1;
  });
const trash = useCardsTrash(async () => {
  await loadPhotos();
  if (!photos.value.some((p) => p.id === photo.value?.id)) show(ofPlan.value[0] ?? null);
});
</script>

<template>
  <CardsFrame
    seen="Plan and photo"
    :problem="problem"
    :trash="trash"
    :shown="photo && { of: 'piece', id: photo.id }"
  >
    <template #tools>
      <ChoiceField
        v-if="plans?.length"
        v-model="plan"
        class="which"
        label="Plan"
        hide-label
        :choices="plans.map((p) => ({ id: p.id, label: p.name }))"
        data-test="compare-plan"
      />
      <ElButton
        v-if="simulated && plan"
        :disabled="busy"
        data-test="piece-stand-in"
        @click="simulate"
        >Simulated photo</ElButton
      >
      <PhotoButtons
        v-if="plan"
        :label="photo ? 'Another photo' : 'Read a photo'"
        name="read-piece"
        @chosen="read"
      />
    </template>
    <UnreadableRows :records="unreadable" @deleted="attempt(loadPhotos)" />
    <ElSkeleton v-if="!plans && !problem" animated :rows="6" />
    <p v-else-if="plans && !plans.length" class="note">
      There is no plan yet. Begin one in Plans; then its painted piece can be compared.
    </p>
    <div v-else-if="plan" class="two">
      <figure>
        <figcaption>
          <b>As planned</b>
          <span class="small">{{ drawn ? '' : 'drawing …' }}</span>
          <span class="push" />
          <NumberField
            v-model="azimuth"
            label="Azimuth"
            hide-label
            unit="° round"
            :min="-360"
            :max="360"
            :step="10"
          />
          <NumberField
            v-model="elevation"
            label="Elevation"
            hide-label
            unit="° up"
            :min="-80"
            :max="80"
            :step="5"
          />
        </figcaption>
        <MarkedPicture
          :src="side"
          alt="The plan"
          :ratio="1"
          :marks="planMarks"
          :next="photo ? nextOnPlan : ''"
          data-test="plan-side"
          @mark="marking.markPlan"
          @shown="drawn = true"
        />
      </figure>
      <figure>
        <figcaption>
          <b>Photo</b>
          <span class="push" />
          <ElSegmented
            v-if="overUrl"
            v-model="laid"
            :options="LAID"
            size="small"
            aria-label="What is laid over the photo"
          />
        </figcaption>
        <MarkedPicture
          v-if="photo"
          :src="`/api/piece-photos/${photo.id}.jpg`"
          alt="The photo"
          :ratio="photo.width / photo.height"
          :marks="photoMarks"
          :ring="marking.way.value === 'outline' ? ring : []"
          :next="nextOnPhoto"
          :over="overUrl"
          :over-share="OVER[laid]"
          data-test="piece-photo"
          @mark="marking.markPhoto"
        />
        <div v-else class="none">
          <h2>No photo of this piece yet</h2>
          <p>
            Photograph it in even light, by a window or under a tent, before plain paper of another
            colour, with a bit of white paper beside it. Not burnt out, not mirrored.
          </p>
        </div>
      </figure>
    </div>
    <template v-if="photo" #foot>
      <span role="status" data-test="compare-todo">{{ todo }}</span>
      <span class="push" />
      <ChoiceField
        v-if="ofPlan.length > 1"
        class="which"
        label="Photo"
        hide-label
        :model-value="photo.id"
        :choices="ofPlan.map((p) => ({ id: p.id, label: when(p.at) }))"
        @update:model-value="(id: string) => show(ofPlan.find((p) => p.id === id) ?? null)"
      />
    </template>
    <template #told>
      <PieceMarks v-if="photo" :marking="marking" :busy="busy" @compare="compare" />
      <ComparedRegions v-if="told" :told="told" />
      <section v-else>
        <h2>What it tells</h2>
        <p class="small">
          For each part: how light its highlights, middle and shadows came out beside the plan,
          where they fall short, and by how many rounds from which side. By its outline the plan is
          laid over the piece by itself; before a wall of its own colour mark points on both: tips,
          corners, edges of parts; far apart, in front and behind.
        </p>
      </section>
    </template>
  </CardsFrame>
</template>

<style scoped>
figcaption {
  display: flex;
  align-items: center;
  gap: 10px;
}
figcaption .push {
  flex: 1;
}
.which {
  flex: 1 1 110px;
  max-width: 190px;
}
.two {
  display: grid;
  flex: 1;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.2fr);
  min-height: 0;
  gap: 10px;
}
figure {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  margin: 0;
  gap: 6px;
}
figcaption {
  min-height: var(--control);
}
figcaption .field {
  width: 102px;
}
.none {
  align-self: center;
  max-width: 44ch;
  margin: auto;
}
h2 {
  margin-bottom: 4px;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .two figure {
    height: 56vh;
  }
}
</style>
