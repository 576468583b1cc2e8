<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, shallowRef, watch } from 'vue';

import {
  api,
  sentence,
  take,
  type MixPart,
  type Plan,
  type TurnedBody,
  type Symptom,
  type TroubleOut,
} from '@/api/client';
import { share } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';
import { useSettings } from '@/stores/settings';

import { knobLabel, knobValue } from './knobs';
import SwatchPlate from './SwatchPlate.vue';
import { takeSwatch, type Swatch } from './swatch';

/** What is seen on the piece, its likeliest causes at this setting, and how to save the piece. */
const open = defineModel<boolean>({ required: true });
const props = defineProps<{
  asked: TurnedBody | null;
  /** Of a mix, what is in the cup. */
  parts?: MixPart[];
  plan?: Plan;
  step?: string;
}>();
const emit = defineEmits<{ turn: [knob: string, to: number] }>();
const settings = useSettings();
const symptoms = ref<{ id: Symptom; label: string }[]>([]);
const seen = ref<Symptom | ''>('');
const found = shallowRef<TroubleOut | null>(null);
const problem = ref('');
const swatch = shallowRef<Swatch | null>(null);

watch(open, async (now) => {
  swatch.value = null;
  if (!now) return;
  found.value = null;
  if (props.asked) void draw(props.asked);
  seen.value = '';
  problem.value = '';
  if (symptoms.value.length) return;
  try {
    symptoms.value = (await take(api.GET('/api/symptoms'))).symptoms;
  } catch (error) {
    problem.value = sentence(error);
  }
});
/** Beside what is seen: what this setting would leave by the model. */
async function draw(asked: TurnedBody): Promise<void> {
  try {
    const drawn = await takeSwatch(asked, props.parts ?? []);
    if (props.asked === asked) swatch.value = drawn;
  } catch {
    // what to do is told without it
  }
}
watch(seen, async (symptom) => {
  const asked = props.asked;
  if (!symptom || !asked) return;
  try {
    const { paint, airbrush, setting } = asked;
    const of = { plan: props.plan ?? null, step: props.step ?? null };
    const body = { paint, airbrush, setting, symptom, ...of };
    const answer = await take(api.POST('/api/trouble', { body }));
    if (seen.value === symptom) found.value = answer;
    problem.value = '';
  } catch (error) {
    problem.value = sentence(error);
  }
});
function turn(knob: string, to: number): void {
  emit('turn', knob, to);
  open.value = false;
}
const unit = (): string => settings.values.pressure_unit ?? 'psi';
</script>

<template>
  <ElDialog v-model="open" title="What went wrong?" width="620px" append-to-body>
    <div class="trouble">
      <ChoiceField v-model="seen" label="What you see" :choices="symptoms" />
      <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
      <SwatchPlate v-if="swatch && !found" :swatch="swatch" />
      <template v-if="found">
        <p class="note" data-test="repair"><b>The piece now.</b> {{ found.repair }}</p>
        <p v-if="found.unexpected" class="note">{{ found.unexpected }}</p>
        <section aria-label="Likeliest causes">
          <h3>
            Likeliest first
            <small
              >one change at a time, then a card; where a knob goes, the fault is gone in most
              airbrushes that would show it here</small
            >
          </h3>
          <ol data-test="causes">
            <li v-for="(c, n) in found.causes" :key="c.cause">
              <span>
                <b>{{ c.cause.charAt(0).toUpperCase() + c.cause.slice(1) }}</b>
                <small>
                  <!-- shares of the trade's causes are an order, not a measure -->
                  {{ found.measured ? share(c.share) : ''
                  }}<template v-if="c.knob && c.from !== null && c.to !== null">
                    · {{ knobLabel(c.knob) }} {{ knobValue(c.knob, c.from, unit()) }} →
                    {{ knobValue(c.knob, c.to, unit()) }}</template
                  >
                  <template v-if="!c.knob">· {{ c.why }}</template>
                </small>
              </span>
              <ElButton
                v-if="c.knob && c.to !== null && c.knob !== 'passes'"
                :type="n === 0 ? 'primary' : 'default'"
                @click="turn(c.knob, c.to)"
              >
                Do that
              </ElButton>
            </li>
          </ol>
        </section>
      </template>
    </div>
  </ElDialog>
</template>

<style scoped>
.trouble {
  display: grid;
  gap: 12px;
  min-height: 220px;
  align-content: start;
}
ol {
  display: grid;
  gap: 10px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 14px;
}
li small {
  display: block;
}
li .el-button {
  flex: none;
}
p {
  margin: 0;
}
</style>
