<script setup lang="ts">
import { ElButton, ElSkeleton } from 'element-plus';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';

import {
  api,
  PAGE,
  sendCardPhoto,
  take,
  type CardPhotoView,
  type CardsView,
  type Known,
  type TrialLook,
  type TurnedBody,
  type WouldTeach,
} from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import { useNews } from '@/composables/use-news';
import { newId } from '@/composables/new-id';
import UnreadableRows from '@/displays/UnreadableRows.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import PhotoButtons from '@/fields/PhotoButtons.vue';
import { when } from '@/displays/format';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import CardPhoto from './CardPhoto.vue';
import CardSetting from './CardSetting.vue';
import CardsFrame from './CardsFrame.vue';
import { LOOKS, SEEN_BY } from './measures';
import PrintCard from './PrintCard.vue';
import StandInDialog from './StandInDialog.vue';
import { useCardsTrash } from './use-cards-trash';
import WhatLanded from './WhatLanded.vue';
import WhichIsIt from './WhichIsIt.vue';

/** Trial cards: printed, photographed, read; what the painter agrees with teaches the model. */
const shelf = useShelf();
const settings = useSettings();
const all = shallowRef<CardsView | null>(null);
const { problem, busy, attempt } = useAttempt();
const reading = ref(false);
const shownId = ref('');
const printing = ref(false);
const standingIn = ref(false);
const asked = shallowRef<TurnedBody | null>(null);
const looked = ref<string | null>(null);
const pointed = ref<TrialLook | null>(null);
/** What the photo that was agreed with last taught. */
const taught = shallowRef<{ photo: string; words: string[] } | null>(null);
const known = shallowRef<Known | null>(null);
const would = shallowRef<WouldTeach[]>([]);

const photo = computed<CardPhotoView | null>(() => {
  const photos = all.value?.photos ?? [];
  return photos.find((p) => p.id === shownId.value) ?? photos[0] ?? null;
});
const found = computed(() => photo.value?.found ?? null);
const simulated = computed(() => settings.values.devices === 'simulated');
const measure = computed(() => {
  if (looked.value) return looked.value;
  const look = pointed.value ?? found.value?.outcome;
  return (look && SEEN_BY[look]) || null;
});
const about = computed(() => {
  const p = photo.value;
  if (!p) return '';
  if (!p.card) return 'of no card that was printed here';
  return `card ${p.card.spoken} · ${p.card.paint} in ${p.card.airbrush}`;
});
const choices = computed(() =>
  (all.value?.photos ?? []).map((p) => ({
    id: p.id,
    label: p.card ? `${p.card.spoken} · ${p.card.paint}` : 'another card',
    more: `${p.found.outcome ? LOOKS[p.found.outcome].toLowerCase() : 'not read'} · ${when(p.at)}`,
  })),
);
const here = computed(() => (taught.value?.photo === photo.value?.id ? taught.value : null));
const agreed = computed<TrialLook | null>(() => photo.value?.look ?? null);

async function load(): Promise<void> {
  all.value = (await take(api.GET('/api/cards'))) as CardsView;
}
onMounted(() =>
  attempt(async () => {
    await Promise.all([load(), shelf.load()]);
  }),
);
async function show(got: CardPhotoView): Promise<void> {
  await load();
  shownId.value = got.id;
}
/** A tablet photographed a card, or another page changed one: the desk follows. */
async function follow(id: string): Promise<void> {
  const before = all.value?.photos ?? [];
  await Promise.all([load(), trash.load()]);
  if (!before.some((p) => p.id === id)) shownId.value = id;
}
useNews(
  'photo',
  (news) => {
    if (news.by !== PAGE) void attempt(() => follow(news.photo));
  },
  // a tablet may have sent one while nobody listened
  () => void load().catch(() => undefined),
);
const read = (file: Blob): Promise<void> =>
  attempt(async () => {
    reading.value = true;
    try {
      await show(await sendCardPhoto(file));
    } finally {
      reading.value = false;
    }
  });

const agree = (look: TrialLook): Promise<void> =>
  attempt(async () => {
    const p = photo.value!;
    const told = await take(
      api.POST('/api/cards/photos/{photo_id}/agree', {
        params: { path: { photo_id: p.id } },
        body: { id: newId(), look },
      }),
    );
    taught.value = { photo: p.id, words: told.words };
    await load();
    await ask();
  });
const takeBack = (): Promise<void> =>
  attempt(async () => {
    await take(
      api.POST('/api/cards/photos/{photo_id}/back', {
        params: { path: { photo_id: photo.value!.id } },
      }),
    );
    taught.value = null;
    await load();
    await ask();
  });
const trash = useCardsTrash(load);
/** What is known of the paint in the airbrush, what each look would teach, and the next card. */
async function ask(): Promise<void> {
  const now = photo.value;
  known.value = null;
  would.value = [];
  if (!now?.card) return;
  const { paint, airbrush, setting } = now.card.asked;
  const [told, taught] = await Promise.all([
    take(api.POST('/api/known', { body: { paint, airbrush, setting } })),
    take(api.GET('/api/cards/photos/{photo_id}/would', { params: { path: { photo_id: now.id } } })),
  ]);
  if (photo.value?.id !== now.id) return;
  known.value = told;
  would.value = taught.would;
}
watch(
  () => photo.value?.id,
  () => void attempt(ask),
);
const next = computed(() => {
  const n = known.value?.next;
  if (!n) return null;
  const s = n.setting;
  return {
    words: `${round(s.pressure_psi)} psi · ${round(s.thinner_parts)} : 1 · ${round(s.distance_mm)} mm`,
    why: n.why,
    setting: s,
  };
});
const round = (v: number | undefined): string => String(Math.round((v ?? 0) * 10) / 10);
function printNext(): void {
  const card = photo.value?.card;
  if (!card || !next.value) return;
  const { paint, airbrush, task, setting } = card.asked;
  asked.value = { paint, airbrush, task, setting: { ...setting, ...next.value.setting } };
  fixed.value = true;
  printing.value = true;
}
const fixed = ref(false);
function print(): void {
  fixed.value = false;
  printing.value = true;
}
</script>

<template>
  <CardsFrame
    seen="Photo of a card"
    :problem="problem"
    :trash="trash"
    :shown="photo && { of: 'card', id: photo.id }"
  >
    <template #tools>
      <ElButton :type="photo ? 'default' : 'primary'" data-test="print-card" @click="print"
        >Print a card</ElButton
      >
      <ElButton v-if="simulated" data-test="stand-in" @click="standingIn = true"
        >Simulated photo</ElButton
      >
      <PhotoButtons
        :label="photo ? 'Another photo' : 'Read a photo'"
        name="read-photo"
        @chosen="read"
      />
    </template>
    <p v-if="about" class="about small" data-test="about-card">{{ about }}</p>
    <p v-if="reading" class="note" role="status" data-test="reading">Reading the photo …</p>
    <UnreadableRows :records="all?.unreadable ?? []" @deleted="load" />
    <ElSkeleton v-if="!all" animated :rows="6" />
    <div v-else-if="!photo" class="empty" data-test="no-photo">
      <h2>No card read yet</h2>
      <ol>
        <li>
          Print a card: it carries a number, so that its photo is known by it. For a setting of your
          own, press it in Window or Cups.
        </li>
        <li>Spray it through its cover frame and let it dry.</li>
        <li>Photograph it from above with a phone, and give the photo here.</li>
      </ol>
      <p class="small">
        Haze measures lines, film, specks and fingers, says what it thinks of them, and learns when
        you agree. White paint goes on a black card, which is printed by itself; metals and varnish
        cannot be read.
      </p>
    </div>
    <CardPhoto v-else :photo="photo" :measure="measure" />
    <template v-if="photo" #foot>
      <span class="small" data-test="quality">{{ found?.quality?.words ?? '' }}</span>
      <span class="push" />
      <ChoiceField
        v-if="choices.length > 1"
        class="earlier"
        label="Photo"
        hide-label
        :model-value="photo.id"
        :choices="choices"
        data-test="photos"
        @update:model-value="(id: string) => (shownId = id)"
      />
    </template>
    <template #told>
      <template v-if="photo && found">
        <section v-if="found.refused" class="refused" data-test="refused">
          <h2>Not read</h2>
          <p class="note stop">{{ found.refused }}</p>
        </section>
        <template v-else>
          <WhatLanded :found="found" @look="(name) => (looked = name)" />
          <WhichIsIt
            v-if="photo.card"
            :found="found"
            :agreed="agreed"
            :busy="busy"
            :would="would"
            @agree="agree"
            @point="(look) => (pointed = look)"
          />
          <p v-else class="note">
            This card was not printed here, so its setting is not known and nothing can be learned
            from it. It looks {{ LOOKS[found.outcome ?? 'clean'].toLowerCase() }}.
          </p>
          <section v-if="agreed" class="taught" role="status" data-test="card-taught">
            <h2>What it taught</h2>
            <template v-if="here">
              <p v-for="w in here.words" :key="w" class="small">{{ w }}</p>
            </template>
            <p v-else class="small">It counts among the trials of this paint in this airbrush.</p>
            <ElButton text data-test="take-back" @click="takeBack">Undo</ElButton>
          </section>
        </template>
        <section v-if="next" class="note next" aria-labelledby="next">
          <h3 id="next">Next card that would teach most</h3>
          <ElButton size="small" data-test="next-card" @click="printNext">{{
            next.words
          }}</ElButton>
          <p class="small">{{ next.why }}</p>
        </section>
      </template>
      <template v-else>
        <h2>What a card tells</h2>
        <p class="small">
          Width of a line at three distances, film of one pass, specks, fingers, bands in a fade,
          and how near the solid comes to its chip; each beside what was foreseen.
        </p>
      </template>
    </template>
  </CardsFrame>
  <PrintCard v-model="printing" :asked="asked" drills @made="load">
    <CardSetting v-if="!fixed" @asked="(now) => (asked = now)" />
    <p v-else-if="asked">
      {{ asked.paint.name }} through {{ asked.airbrush.name }}: {{ next?.words }}
    </p>
  </PrintCard>
  <StandInDialog
    v-model="standingIn"
    :cards="all?.cards ?? []"
    :photos="all?.photos ?? []"
    @taken="show"
  />
</template>

<style scoped>
.earlier {
  width: 300px;
}
h1,
h2,
h3 {
  margin: 0;
}
.next {
  display: grid;
  justify-items: start;
  margin-top: auto;
  gap: 8px;
}
.next p,
.taught p,
.refused p {
  margin: 0;
}
.taught,
.refused {
  display: grid;
  justify-items: start;
  gap: 6px;
}
.empty {
  max-width: 62ch;
  margin: auto;
}
.empty li {
  margin: 8px 0;
}
</style>
