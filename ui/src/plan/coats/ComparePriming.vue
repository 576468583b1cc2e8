<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, shallowRef, watch } from 'vue';

import { api, sentence, take, takePicture, type PrimingOut, type PrimingWay } from '@/api/client';
import { useJob } from '@/composables/use-job';
import PictureCard from '@/displays/PictureCard.vue';
import { decimals, duration, temperature } from '@/displays/format';
import StatusSign from '@/displays/StatusSign.vue';
import WorkBar from '@/displays/WorkBar.vue';
import { usePlan } from '@/stores/plan';

/** Airbrush, spray can and dry brush for this piece in today's room. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();
const ways = ref<PrimingWay[]>([]);
const assumed = ref('');
const pictures = shallowRef<Record<string, Blob>>({});
const { job, problem, run, stop } = useJob<PrimingOut>();
let turn = 0;

watch(open, async (now) => {
  const plan = store.plan;
  const mine = ++turn;
  if (!now) stop();
  if (!now || !plan) return;
  problem.value = '';
  ways.value = [];
  assumed.value = '';
  pictures.value = {};
  try {
    const out = await run(
      () => take(api.POST('/api/priming', { body: { plan } })),
      (id) => take(api.GET('/api/priming/{job_id}', { params: { path: { job_id: id } } })),
    );
    if (!out) return;
    const found = out.ways;
    if (mine !== turn) return;
    ways.value = found;
    assumed.value = out.assumed ?? '';
    for (const w of found) {
      const picture = await takePicture('/api/priming/picture', { plan, way: w.way });
      if (mine !== turn) return;
      pictures.value = { ...pictures.value, [w.way]: picture };
    }
  } catch (error) {
    if (mine === turn) problem.value = sentence(error);
  }
});
</script>

<template>
  <ElDialog
    v-model="open"
    title="Three ways to prime this piece"
    width="960px"
    top="3vh"
    append-to-body
  >
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <div v-else-if="job" class="working" role="status">
      <span class="small">{{ job.doing }}</span>
      <WorkBar :share="job.progress" :doing="job.doing" />
      <ElButton @click="stop">Stop</ElButton>
    </div>
    <div class="ways" data-test="ways">
      <section v-for="w in ways" :key="w.way" :aria-label="w.title">
        <h3>
          {{ w.title }}
          <StatusSign :sign="!w.possible ? 'stop' : w.caution ? 'mind' : 'clean'" />
        </h3>
        <PictureCard :picture="pictures[w.way]" alt="The values it leaves" />
        <dl>
          <dt>surface</dt>
          <dd>
            {{ w.smooth }} <small>{{ decimals(w.grain, 1) }} L* of grain</small>
          </dd>
          <dt>white gets</dt>
          <dd class="number">{{ decimals(w.whitest, 0) }} L*</dd>
          <dt>dark stays</dt>
          <dd class="number">{{ decimals(w.darkest, 0) }} L*</dd>
          <dt>contrast</dt>
          <dd class="number">{{ decimals(w.contrast, 0) }} L*</dd>
          <dt>takes</dt>
          <dd class="number">{{ duration(w.minutes * 60) }}</dd>
          <dt>where</dt>
          <dd>{{ w.where }}</dd>
        </dl>
        <p v-for="l in w.limits" :key="l" class="note"><StatusSign sign="stop" /> {{ l }}</p>
        <p v-if="w.caution" class="note"><StatusSign sign="stop" /> {{ w.caution }}</p>
      </section>
    </div>
    <p v-if="assumed" class="note" data-test="assumed">{{ assumed }}</p>
    <p class="small">
      Values after the light coats. Film of the airbrush is from its recipe; that of can and dry
      brush is a usual one. Room: {{ temperature(store.plan?.room.temperature_c ?? 0, 0) }},
      {{ decimals(store.plan?.room.humidity_pct ?? 0, 0) }} % RH.
    </p>
  </ElDialog>
</template>

<style scoped>
.working {
  display: grid;
  gap: 6px;
}
.ways {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 18px;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
h3 {
  display: flex;
  justify-content: space-between;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 0;
}
dt {
  color: var(--ink-2);
}
dd {
  margin: 0;
}
.note {
  font-size: var(--f14);
}
@media (max-width: 900px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
