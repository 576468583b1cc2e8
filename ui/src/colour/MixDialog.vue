<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog } from 'element-plus';
import { computed, ref, watch } from 'vue';

import { api, take, type MixesOut, type MixOut } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { BARE } from '@/craft.generated';
import ColourField from '@/fields/ColourField.vue';
import DropRow from './DropRow.vue';
import { decimals } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import NumberField from '@/fields/NumberField.vue';
import PhotoPick from './PhotoPick.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';
import ChoiceField from '@/fields/ChoiceField.vue';

/** Mixing backwards: a wanted colour, and the owned paints that make it in whole drops. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{ start: string; forCoat: boolean }>();
const store = usePlan();
const shelf = useShelf();
const { job, problem, run, stop } = useJob<MixesOut>();

const target = ref(props.start);
const mostPaints = ref(3);
const mostDrops = ref(8);
const over = ref<'thick' | 'below' | 'typed'>('thick');
const seen = computed(() =>
  [
    { id: 'thick' as const, label: 'in a thick film' },
    { id: 'below' as const, label: 'as a film over what lies below' },
    { id: 'typed' as const, label: 'as a film over a colour' },
  ].filter((o) => props.forCoat || o.id !== 'below'),
);
const ground = ref('#17181a');
const film = ref(6);
const later = ref(false);
const found = ref<MixesOut | null>(null);
const asked = ref('');

watch(open, (now) => {
  if (!now) return stop();
  target.value = props.start;
  found.value = null;
});

const then = computed(() => store.places[store.after]?.later ?? []);
const below = computed(() => store.places[store.after - 1]?.ground ?? BARE);
const body = computed(() => ({
  target: target.value,
  max_paints: Math.round(mostPaints.value),
  max_drops: Math.round(mostDrops.value),
  over: over.value === 'thick' ? null : over.value === 'below' ? below.value : ground.value,
  dry_film_um: film.value,
  then: later.value ? then.value : [],
  only: [],
}));
async function look(): Promise<void> {
  const wish = body.value;
  const out = await run(
    () => take(api.POST('/api/mixes', { body: wish })),
    (id) => take(api.GET('/api/mixes/{job_id}', { params: { path: { job_id: id } } })),
  );
  if (!out) return;
  found.value = out;
  asked.value = JSON.stringify(wish);
}
const stale = computed(() => found.value !== null && asked.value !== JSON.stringify(body.value));

function use(mix: MixOut): void {
  const parts = Object.entries(mix.drops).map(([id, drops]) => ({
    paint: shelf.shelf.paints.find((p) => p.id === id)!,
    drops,
  }));
  if (parts.some((p) => !p.paint)) return;
  const [first, ...also] = parts;
  const names = parts.map((p) => p.paint.name).join(' + ');
  const ratio = parts.length > 1 ? ` ${parts.map((p) => p.drops).join(':')}` : '';
  void store.changeCoat(`Mixed ${names}`, (coat) => {
    coat.paint = first!.paint;
    coat.drops = first!.drops;
    coat.also = also;
    coat.name = `${names}${ratio}`.slice(0, 120);
  });
  open.value = false;
}
</script>

<template>
  <ElDialog v-model="open" title="Match a colour" width="880px" top="4vh" append-to-body>
    <div class="mix">
      <div class="ask">
        <ColourField v-model="target" label="Wanted colour" />
        <PhotoPick @picked="target = $event" />
        <ChoiceField v-model="over" label="Seen" :choices="seen" />
        <ColourField v-if="over === 'typed'" v-model="ground" label="Over" />
        <NumberField
          v-if="over !== 'thick'"
          label="Dry film"
          unit="µm"
          :min="0.5"
          :max="100"
          :digits="1"
          :model-value="film"
          @update:model-value="film = $event"
        />
        <div class="pair">
          <NumberField
            label="Paints, at most"
            :min="1"
            :max="3"
            :model-value="mostPaints"
            @update:model-value="mostPaints = $event"
          />
          <NumberField
            label="Drops, at most"
            :min="1"
            :max="8"
            :model-value="mostDrops"
            @update:model-value="mostDrops = $event"
          />
        </div>
        <ElCheckbox v-if="forCoat && then.length" v-model="later">
          Aim past what comes later ({{ then.length }} {{ then.length === 1 ? 'film' : 'films' }})
        </ElCheckbox>
        <ElButton type="primary" data-test="look" :disabled="!!job" @click="look">
          Find mixes
        </ElButton>
        <p class="small">
          Hues of mixes hold; their ratios are near until a paint's strength is known from a mix of
          your own.
        </p>
      </div>
      <div class="found">
        <div v-if="job" class="working" role="status">
          <span class="small">{{ job.doing }}</span>
          <WorkBar :share="job.progress" :doing="job.doing" />
          <ElButton @click="stop">Stop</ElButton>
        </div>
        <p v-if="problem" class="note" role="alert">{{ problem }}</p>
        <template v-if="found">
          <p v-if="stale" class="note">These are for the question before; find mixes again.</p>
          <p v-if="found.missing" class="note" data-test="missing">{{ found.missing }}</p>
          <p v-if="found.aim !== target" class="small">
            Aimed at <i class="dot" :style="{ background: found.aim }" />
            <span class="mono">{{ found.aim }}</span>, so that what comes later lands on the wanted
            colour.
          </p>
          <ol data-test="mixes">
            <li v-for="(m, i) in found.mixes" :key="i" :class="{ plainest: i === found.simplest }">
              <span
                class="swatch"
                :style="{ background: `linear-gradient(90deg, ${found.aim} 50%, ${m.colour} 50%)` }"
                role="img"
                :aria-label="`wanted beside ${m.colour}`"
              />
              <DropRow :drops="m.drops" />
              <span class="off">
                <b class="number">{{ decimals(m.delta_e, 1) }}</b> off
                <small
                  >{{ m.words }}<template v-if="i === found.simplest">; plainest</template></small
                >
              </span>
              <ElButton v-if="forCoat" @click="use(m)">Use</ElButton>
            </li>
          </ol>
        </template>
        <p v-else-if="!job" class="small">
          Left of each chip the wanted colour, right the mix; “off” is the difference ΔE00: below 1
          nobody sees it.
        </p>
      </div>
    </div>
  </ElDialog>
</template>

<style scoped>
.mix {
  display: grid;
  grid-template-columns: 280px minmax(0, 1fr);
  gap: 24px;
  min-height: 440px;
}
.ask {
  display: grid;
  gap: 12px;
  align-content: start;
}
.found {
  display: grid;
  gap: 10px;
  align-content: start;
}
.working {
  display: grid;
  gap: 6px;
}
ol {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 72px minmax(0, 1fr) 132px auto;
  align-items: center;
  gap: 12px;
  padding: 4px 6px;
}
.plainest {
  background: var(--well);
}
.swatch {
  height: 44px;
  border: 1px solid var(--edge);
}
.off small {
  display: block;
}
.dot {
  display: inline-block;
  width: 14px;
  height: 14px;
  border: 1px solid var(--edge);
  vertical-align: -2px;
}
</style>
