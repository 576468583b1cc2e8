<script setup lang="ts">
import { refDebounced } from '@vueuse/core';
import { ElAlert, ElButton } from 'element-plus';
import { computed, onMounted, ref } from 'vue';
import { RouterView, useRoute } from 'vue-router';

import { preparing, sentence, trouble } from '@/api/client';
import FirstTour from './FirstTour.vue';
import HelpDialog from './HelpDialog.vue';
import SettingsDialog from '@/settings/SettingsDialog.vue';
import RoomButton from '@/plan/RoomButton.vue';
import { useDialogs } from '@/composables/use-dialogs';
import { useKeys } from '@/composables/use-keys';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';
import WorkBar from '@/displays/WorkBar.vue';

const route = useRoute();
const settings = useSettings();
const plan = usePlan();
const help = ref(false);
const chosen = ref(false);
const touring = ref(false);
const problem = ref('');
/** What stands above every screen until it is seen to. */
const notices = computed(() =>
  // what the plan says beside its own way out need not be said twice
  [...settings.notices, trouble.value, problem.value].filter((w) => w && w !== plan.problem),
);
const PLACES = [
  { to: '/', label: 'Plans', names: ['plans', 'plan'] },
  { to: '/shelf', label: 'Shelf', names: ['shelf'] },
  { to: '/window', label: 'Window', names: ['window'] },
  { to: '/cards', label: 'Cards', names: ['cards', 'practice', 'compare'] },
  { to: '/notebook', label: 'Notebook', names: ['notebook', 'then'] },
];

/** The work a request waits for, once that takes long enough to be said. */
const SAID_AFTER_MS = 300;
const longWait = refDebounced(
  computed(() => preparing.value !== null),
  SAID_AFTER_MS,
);
// a plan shows the work on its piece where the piece stands
const waitsFor = computed(() => (longWait.value && route.name !== 'plan' ? preparing.value : null));

/** The booth takes the whole screen. */
const whole = computed(() => route.name === 'booth');

onMounted(() => {
  settings.load().catch((error: unknown) => {
    problem.value = sentence(error);
  });
});
useDialogs();
useKeys({ '?': () => (help.value = true) }, () => settings.singleKeys);
function tour(): void {
  help.value = false;
  touring.value = true;
}
</script>

<template>
  <div class="frame" :class="{ whole }">
    <nav v-if="!whole" class="rail no-print" aria-label="Haze">
      <p class="mark">Haze</p>
      <RouterLink
        v-for="p in PLACES"
        :key="p.to"
        :to="p.to"
        class="place"
        :class="{ here: p.names.includes(String(route.name)) }"
        >{{ p.label }}</RouterLink
      >
      <div class="foot">
        <RoomButton v-if="route.name === 'plan'" />
        <ElButton text @click="chosen = true">Settings</ElButton>
        <ElButton text @click="help = true">Help</ElButton>
      </div>
    </nav>
    <main>
      <ElAlert
        v-for="notice in notices"
        :key="notice"
        class="no-print"
        type="warning"
        :title="notice"
        :closable="false"
        show-icon
      />
      <RouterView />
    </main>
    <div v-if="waitsFor" class="waits no-print" role="status" data-test="waits-for">
      <span>{{ waitsFor.doing }}</span>
      <WorkBar :share="waitsFor.progress" :doing="waitsFor.doing" bare />
    </div>
    <HelpDialog v-model="help" @tour="tour" />
    <SettingsDialog v-model="chosen" />
    <FirstTour v-model="touring" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr);
  height: 100%;
}
.frame.whole {
  grid-template-columns: minmax(0, 1fr);
}
.rail {
  display: flex;
  flex-direction: column;
  background: var(--rail);
}
.mark {
  padding: 24px 18px 22px;
  font-size: var(--f24);
  font-weight: 720;
  letter-spacing: -0.01em;
  line-height: 1;
}
.place {
  display: flex;
  align-items: center;
  min-height: 40px;
  padding: 0 14px;
  border-left: 4px solid transparent;
  color: var(--ink);
  text-decoration: none;
}
.place:hover {
  background: var(--well-2);
}
.place.here {
  background: var(--page);
  border-left-color: var(--black);
  font-weight: 680;
}
.place:focus-visible {
  outline-offset: -4px;
}
.foot {
  display: grid;
  margin-top: auto;
  padding: 0 10px 12px;
}
.foot .el-button {
  --el-button-hover-bg-color: var(--well-2);
  justify-content: start;
  font-weight: 450;
}
main {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  height: 100%;
  overflow: hidden;
}
main > :last-child {
  flex: 1;
  min-height: 0;
}
.el-alert {
  flex: none;
}
.waits {
  position: fixed;
  z-index: 4000;
  bottom: 16px;
  left: 50%;
  display: grid;
  gap: 6px;
  width: min(360px, 92vw);
  padding: 12px 16px;
  border-radius: var(--round);
  background: var(--sheet);
  box-shadow: 0 2px 12px rgb(0 0 0 / 25%);
  transform: translateX(-50%);
}
@media (pointer: coarse) {
  .place {
    min-height: 48px;
  }
}
@media (max-width: 1100px) {
  .frame {
    grid-template-columns: 92px minmax(0, 1fr);
  }
  .mark {
    padding-inline: 14px;
    font-size: var(--f18);
  }
  .foot {
    padding-inline: 4px;
  }
}
@media print {
  .frame {
    display: block;
    height: auto;
  }
  main {
    height: auto;
    overflow: visible;
  }
}
</style>
