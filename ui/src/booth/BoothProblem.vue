<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, onMounted, ref, shallowRef } from 'vue';

import { api, sentence, take, type BoothStep, type Symptom, type TroubleOut } from '@/api/client';
import { useSettings } from '@/stores/settings';
import { knobLabel, knobValue } from '@/window/knobs';

/** Six big choices; Space steps, held it chooses; then the one thing to change. */
const props = defineProps<{ step: BoothStep }>();
const emit = defineEmits<{
  seen: [symptom: Symptom];
  turn: [knob: string, to: number];
  wrong: [];
  close: [];
}>();
const settings = useSettings();

interface Choice {
  id: Symptom | 'wrong';
  label: string;
}
const ALL: Choice[] = [
  { id: 'specks', label: 'Specks' },
  { id: 'spiders', label: 'Spiders, runs' },
  { id: 'dust', label: 'Dust' },
  { id: 'nothing', label: 'Nothing comes' },
  { id: 'spitting', label: 'It spits' },
  { id: 'wrong', label: 'This copy went wrong' },
];
const choices = computed(() => (props.step.through ? ALL : ALL.filter((c) => c.id === 'wrong')));
const at = ref(0);
const chosen = ref<Choice | null>(null);
const found = shallowRef<TroubleOut | null>(null);
const repairs = shallowRef(new Map<string, string>());
const problem = ref('');
const busy = ref(false);

onMounted(async () => {
  const listed = await take(api.GET('/api/symptoms')).catch(() => null);
  repairs.value = new Map((listed?.symptoms ?? []).map((s) => [s.id, s.repair]));
});
const turn = computed(() => {
  const cause = found.value?.causes.find((c) => c.knob && c.to !== null);
  if (!cause?.knob || cause.to === null) return null;
  const unit = settings.values.pressure_unit ?? 'psi';
  return {
    knob: cause.knob,
    to: cause.to,
    words: `${knobLabel(cause.knob)}: ${knobValue(cause.knob, cause.to, unit)}`,
    from: cause.from === null ? '' : knobValue(cause.knob, cause.from, unit),
    why: cause.why,
  };
});
const repair = computed(
  () => found.value?.repair ?? repairs.value.get(chosen.value?.id ?? '') ?? '',
);

async function choose(choice: Choice): Promise<void> {
  chosen.value = choice;
  if (choice.id === 'wrong') {
    emit('wrong');
    emit('close');
    return;
  }
  emit('seen', choice.id);
  const { through, plan, coat } = props.step;
  if (!through) return;
  busy.value = true;
  try {
    const opened = plan
      ? await take(api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: plan } } }))
      : null;
    found.value = await take(
      api.POST('/api/trouble', {
        body: {
          ...through,
          symptom: choice.id,
          plan: opened?.plan ?? null,
          step: opened ? (coat ?? null) : null,
        },
      }),
    );
  } catch (error) {
    problem.value = `${sentence(error)} Your note is kept.`;
  } finally {
    busy.value = false;
  }
}
function apply(): void {
  if (turn.value) emit('turn', turn.value.knob, turn.value.to);
  emit('close');
}

/** Space or the pedal, short and held. */
function short(): void {
  if (!chosen.value) at.value = (at.value + 1) % choices.value.length;
  else if (!busy.value) apply();
}
function long(): void {
  if (!chosen.value) void choose(choices.value[at.value]!);
  else emit('close');
}
defineExpose({ short, long });
</script>

<template>
  <section class="trouble" aria-label="Problem" data-test="booth-problem">
    <template v-if="!chosen">
      <h1>What do you see?</h1>
      <div class="choices">
        <ElButton
          v-for="(c, n) in choices"
          :key="c.id"
          class="choice"
          :class="{ at: n === at }"
          :data-test="`seen-${c.id}`"
          :aria-current="n === at"
          @click="choose(c)"
          >{{ c.label }}</ElButton
        >
      </div>
      <p class="hint">Space steps on, hold it to choose</p>
    </template>
    <template v-else>
      <p class="over">{{ chosen.label }}</p>
      <p v-if="busy" class="large">Looking for the cause …</p>
      <template v-else-if="turn">
        <h1 data-test="correction">{{ turn.words }}</h1>
        <p class="large">
          <template v-if="turn.from">instead of {{ turn.from }}; </template>{{ turn.why }}.
        </p>
      </template>
      <h1 v-else>{{ found ? 'Nothing to turn for it' : 'Noted' }}</h1>
      <p v-if="problem" class="large" role="alert">{{ problem }}</p>
      <p v-if="repair" class="repair"><b>The piece now.</b> {{ repair }}</p>
      <div class="acts">
        <ElButton v-if="turn" type="primary" class="go" data-test="apply" @click="apply"
          >Change for today</ElButton
        >
        <ElButton class="go" data-test="leave" @click="emit('close')">{{
          turn ? 'Leave it (hold)' : 'Go on'
        }}</ElButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
.trouble {
  display: grid;
  align-content: start;
  gap: 20px;
  height: 100%;
  overflow-y: auto;
}
h1 {
  font-size: 56px;
  line-height: 1.05;
  font-weight: 720;
}
.over,
.hint {
  font-size: 32px;
  color: var(--ink-2);
}
.large {
  font-size: 32px;
  line-height: 1.25;
}
.repair {
  font-size: 28px;
  line-height: 1.3;
}
.choices {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 14px;
}
.choices :deep(.el-button),
.acts :deep(.el-button) {
  height: auto;
  min-height: 96px;
  margin: 0;
  padding: 8px 20px;
  font-size: 36px;
  font-weight: 660;
  white-space: normal;
  line-height: 1.1;
}
.choices :deep(.at) {
  background: var(--black);
  color: var(--on-black);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
}
</style>
