<script setup lang="ts">
import { ElAlert } from 'element-plus';
import { computed, onMounted, ref } from 'vue';
import { RouterView, useRoute } from 'vue-router';

import { sentence, trouble } from '@/api/client';
import HelpDialog from './HelpDialog.vue';
import RoomButton from '@/plan/RoomButton.vue';
import { useKeys } from '@/composables/use-keys';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';

const route = useRoute();
const settings = useSettings();
const plan = usePlan();
const help = ref(false);
const problem = ref('');
/** What stands above every screen until it is seen to. */
const notices = computed(() =>
  // what the plan says beside its own way out need not be said twice
  [...settings.notices, trouble.value, problem.value].filter((w) => w && w !== plan.problem),
);

onMounted(() => {
  settings.load().catch((error: unknown) => {
    problem.value = sentence(error);
  });
});
useKeys({ '?': () => (help.value = true) }, () => settings.singleKeys);
</script>

<template>
  <div class="frame">
    <nav class="rail no-print" aria-label="Haze">
      <p class="mark">Haze</p>
      <RouterLink
        to="/"
        class="place"
        :class="{ here: route.name === 'plans' || route.name === 'plan' }"
        >Plans</RouterLink
      >
      <RouterLink to="/shelf" class="place" :class="{ here: route.name === 'shelf' }"
        >Shelf</RouterLink
      >
      <div class="foot">
        <RoomButton v-if="route.name === 'plan'" />
        <button class="plain place" type="button" @click="help = true">Help</button>
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
    <HelpDialog v-model="help" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
  height: 100%;
}
.rail {
  display: flex;
  flex-direction: column;
  background: var(--surface-2);
}
.mark {
  padding: 20px 16px 22px;
  font-size: var(--f28);
  font-weight: 700;
  letter-spacing: -0.01em;
  line-height: 1;
}
.place {
  display: flex;
  align-items: center;
  min-height: 44px;
  padding: 0 12px;
  border-left: 4px solid transparent;
  color: var(--text);
  text-decoration: none;
  width: 100%;
}
button.place {
  padding: 0 12px;
}
.place.here {
  background: var(--surface);
  border-left-color: var(--strong);
  font-weight: 640;
}
.place:focus-visible {
  outline-offset: -4px;
}
.foot {
  margin-top: auto;
  padding-bottom: 12px;
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
