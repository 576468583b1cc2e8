<script setup lang="ts">
import { ElButton, ElSegmented, ElSkeleton } from 'element-plus';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';

import {
  api,
  sendPiecePhoto,
  take,
  type PiecePhotoView,
  type PlanSummary,
  type PointPair,
} from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import { when } from '@/displays/format';
import { PAPER_LIGHTNESS, POINTS } from '@/craft.generated';
import ChoiceField from '@/fields/ChoiceField.vue';
import PhotoButtons from '@/fields/PhotoButtons.vue';
import NumberField from '@/fields/NumberField.vue';
import { useSettings } from '@/stores/settings';

import CardsFrame from './CardsFrame.vue';
import ComparedRegions from './ComparedRegions.vue';
import MarkedPicture from './MarkedPicture.vue';
import { useCardsTrash } from './use-cards-trash';

/** A photo of the painted piece beside its plan: the same places marked on both, then values. */
const settings = useSettings();
const plans = shallowRef<PlanSummary[] | null>(null);
const photos = shallowRef<PiecePhotoView[]>([]);
const photo = shallowRef<PiecePhotoView | null>(null);
const plan = ref('');
const azimuth = ref(20);
const elevation = ref(12);
const pairs = ref<PointPair[]>([]);
const onPlan = ref<PointPair['plan'] | null>(null);
const patch = ref<{ x: number; y: number } | null>(null);
const lightness = ref(PAPER_LIGHTNESS);
const patching = ref(false);
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
  photo.value?.told ? `/api/piece-photos/${photo.value.id}/planned.png?n=${times.value}` : null,
);
const number = computed(() => String(pairs.value.length + 1));
const wanted = computed<'plan' | 'photo' | 'patch' | null>(() => {
  if (!photo.value) return null;
  if (patching.value) return 'patch';
  if (pairs.value.length >= POINTS.most) return null;
  return onPlan.value ? 'photo' : 'plan';
});
const planMarks = computed(() => {
  const here = pairs.value
    .map((p, n) => ({ ...p.plan, label: String(n + 1) }))
    .filter((m) => m.azimuth_deg === azimuth.value && m.elevation_deg === elevation.value);
  return onPlan.value ? [...here, { ...onPlan.value, label: number.value }] : here;
});
const photoMarks = computed(() => {
  const here = pairs.value.map((p, n) => ({ ...p.photo, label: String(n + 1) }));
  return patch.value ? [...here, { ...patch.value, label: 'paper' }] : here;
});
const ready = computed(() => pairs.value.length >= POINTS.least && patch.value !== null);
const todo = computed(() => {
  if (!photo.value) return '';
  const left = POINTS.least - pairs.value.length;
  if (wanted.value === 'photo') return `Now the same place on the photo: point ${number.value}.`;
  if (wanted.value === 'patch') return 'Press the middle of the paper on the photo.';
  if (left > 0)
    return `Mark a place that is clear in both, on the plan first; ${left} more are needed.`;
  if (!patch.value) return 'Mark the paper, or a grey of known lightness.';
  return pairs.value.length < POINTS.checked
    ? `Ready; ${POINTS.checked} points are surer.`
    : 'Ready.';
});

onMounted(() =>
  attempt(async () => {
    const [all, kept] = await Promise.all([
      take(api.GET('/api/plans')),
      take(api.GET('/api/piece-photos')),
    ]);
    plans.value = all.plans;
    photos.value = kept.photos;
    plan.value = kept.photos[0]?.plan ?? all.plans[0]?.id ?? '';
  }),
);
watch(plan, () => {
  drawn.value = false;
  show(ofPlan.value[0] ?? null);
});
watch(side, () => (drawn.value = false));

function show(next: PiecePhotoView | null): void {
  photo.value = next;
  const marks = next?.marks;
  pairs.value = marks ? [...marks.points] : [];
  patch.value = marks?.patch ?? null;
  lightness.value = marks?.lightness ?? PAPER_LIGHTNESS;
  onPlan.value = null;
  patching.value = false;
  laid.value = 'photo';
  const first = marks?.points[0]?.plan;
  if (first) [azimuth.value, elevation.value] = [first.azimuth_deg, first.elevation_deg];
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
function markPlan(x: number, y: number): void {
  onPlan.value = { x, y, azimuth_deg: azimuth.value, elevation_deg: elevation.value };
}
function markPhoto(x: number, y: number): void {
  if (patching.value) {
    patch.value = { x, y };
    patching.value = false;
  } else if (onPlan.value) {
    pairs.value = [...pairs.value, { plan: onPlan.value, photo: { x, y } }];
    onPlan.value = null;
  }
}
function back(): void {
  if (onPlan.value) onPlan.value = null;
  else pairs.value = pairs.value.slice(0, -1);
}
const compare = (): Promise<void> =>
  attempt(async () => {
    const got = await take(
      api.POST('/api/piece-photos/{photo_id}/compare', {
        params: { path: { photo_id: photo.value!.id } },
        body: { points: pairs.value, patch: patch.value!, lightness: lightness.value },
      }),
    );
    keep(got);
    photo.value = got;
    times.value += 1;
  });
const trash = useCardsTrash(async () => {
  photos.value = (await take(api.GET('/api/piece-photos'))).photos;
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
          :next="wanted === 'plan' ? `point ${number}` : ''"
          data-test="plan-side"
          @mark="markPlan"
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
          :next="wanted === 'photo' ? `point ${number}` : wanted === 'patch' ? 'the paper' : ''"
          :over="overUrl"
          :over-share="OVER[laid]"
          data-test="piece-photo"
          @mark="markPhoto"
        />
        <div v-else class="none">
          <h2>No photo of this piece yet</h2>
          <p>
            Photograph it in even light, by a window or under a tent, with a bit of white paper
            beside it, from the side the plan is seen from. Not burnt out, not mirrored.
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
      <section v-if="photo" class="marks" aria-labelledby="marks">
        <h2 id="marks">Marks</h2>
        <p data-test="points">
          {{ pairs.length }} {{ pairs.length === 1 ? 'point' : 'points' }}
          <ElButton
            text
            size="small"
            :disabled="!pairs.length && !onPlan"
            data-test="mark-back"
            @click="back"
            >Take the last back</ElButton
          >
        </p>
        <div class="paper">
          <ElButton :aria-pressed="patching" data-test="mark-paper" @click="patching = !patching">{{
            patch ? 'Mark the paper anew' : 'Mark the paper'
          }}</ElButton>
          <NumberField
            v-model="lightness"
            label="Its lightness"
            unit="L*"
            :min="20"
            :max="100"
            :digits="1"
          />
        </div>
        <ElButton
          type="primary"
          :disabled="!ready"
          :loading="busy"
          data-test="compare"
          @click="compare"
          >Compare</ElButton
        >
      </section>
      <ComparedRegions v-if="told" :told="told" />
      <section v-else>
        <h2>What it tells</h2>
        <p class="small">
          For each part: how light its highlights, middle and shadows came out beside the plan,
          where they fall short, and by how many rounds from which side. Mark the same places on
          both: tips, corners, edges of parts; far apart, in front and behind.
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
  grid-template-columns: 1fr 1.2fr;
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
.marks {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
h2 {
  margin-bottom: 4px;
}
.paper {
  display: grid;
  grid-template-columns: minmax(0, auto) minmax(84px, 1fr);
  align-items: end;
  gap: 8px;
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
