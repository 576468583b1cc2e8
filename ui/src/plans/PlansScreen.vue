<script setup lang="ts">
import { MoreFilled } from '@element-plus/icons-vue';
import {
  ElAlert,
  ElButton,
  ElDialog,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElSkeleton,
} from 'element-plus';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type DamagedPlan,
  type PlanList,
  type PlanSummary,
} from '@/api/client';
import StartDay from './StartDay.vue';
import StartDialog from './StartDialog.vue';
import { useNews } from '@/composables/use-news';
import { decimals, when } from '@/displays/format';

const router = useRouter();
const plans = ref<PlanSummary[] | null>(null);
const trashed = ref<PlanSummary[]>([]);
const damaged = ref<DamagedPlan[]>([]);
const unused = ref<PlanList['unused_meshes']>({ count: 0, size_bytes: 0 });
const problem = ref('');
const busy = ref(false);
const starting = ref(false);
const several = ref(false);
const showTrash = ref(false);

async function load(): Promise<void> {
  try {
    const found = await take(api.GET('/api/plans'));
    plans.value = found.plans;
    trashed.value = found.trashed;
    damaged.value = found.damaged;
    unused.value = found.unused_meshes;
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
useNews(
  () => void load(),
  () => undefined,
);

async function attempt(work: () => Promise<void>): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    await work();
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}

function openDemo(): Promise<void> {
  return attempt(async () => {
    const demo = await take(api.POST('/api/demo'));
    await router.push({ name: 'plan', params: { id: demo.id, step: 'coats' } });
  });
}
/** What comes next of a plan: its first coats, what is to mind, or the day. */
const NEXT = {
  coats: { words: 'Choose the coats', step: 'coats' },
  mind: { words: 'See what to mind', step: 'coats' },
  day: { words: 'Look at the day', step: 'day' },
};
function next(plan: PlanSummary): keyof typeof NEXT {
  if (!plan.coats) return 'coats';
  return plan.stands?.to_mind ? 'mind' : 'day';
}
function where(plan: PlanSummary): string {
  if (!plan.coats) return 'no steps yet';
  const steps = `${plan.coats} ${plan.coats === 1 ? 'step' : 'steps'}`;
  return plan.stands ? `${steps} · hands ${plan.stands.hands}` : `${steps} planned`;
}
function first(plan: PlanSummary): string {
  if (plan.stands?.first) return `${plan.stands.to_mind} to mind: ${plan.stands.first}`;
  return `${plan.stands ? 'nothing to mind' : 'looking it over'} · saved ${when(plan.updated_at)}`;
}
function goOn(plan: PlanSummary): void {
  void router.push({ name: 'plan', params: { id: plan.id, step: NEXT[next(plan)].step } });
}
function putAway(plan: PlanSummary, away: boolean): Promise<void> {
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/trash', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version, trashed: away },
      }),
    );
    await load();
  });
}
function mend(plan: DamagedPlan): Promise<void> {
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/mend', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version },
      }),
    );
    await load();
  });
}
function emptyTrash(): Promise<void> {
  return attempt(async () => {
    await take(api.DELETE('/api/trash'));
    showTrash.value = false;
    await load();
  });
}
</script>

<template>
  <div class="plans">
    <header>
      <h1>Plans</h1>
      <small v-if="plans?.length">{{ plans.length === 1 ? 'one' : plans.length }}</small>
      <span class="push" />
      <ElButton v-if="trashed.length || unused.count" text @click="showTrash = true">
        Trash ({{ trashed.length + unused.count }})
      </ElButton>
      <template v-if="plans?.length">
        <ElButton v-if="plans.length > 1" data-test="several" @click="several = true"
          >A day of several</ElButton
        >
        <ElButton :disabled="busy" @click="openDemo">Open the demo plan</ElButton>
        <ElButton type="primary" @click="starting = true">Start with a mesh</ElButton>
      </template>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>

    <ElAlert
      v-for="plan in damaged"
      :key="plan.id"
      class="damaged"
      type="error"
      :closable="false"
      show-icon
      title="A plan cannot be read"
    >
      <p>
        Last saved {{ when(plan.updated_at) }}. Nothing of it is lost: what was saved stays stored.
        <template v-if="!plan.good_at">None of its revisions can be read by this Haze.</template>
      </p>
      <ElButton v-if="plan.good_at" :disabled="busy" @click="mend(plan)">
        Go back to its last good revision, of {{ when(plan.good_at) }}
      </ElButton>
    </ElAlert>

    <section v-if="plans && !plans.length && !damaged.length" class="empty">
      <h2>Nothing planned yet</h2>
      <p>
        A plan takes a piece from bare surface to its last coat: where to spray from, how to thin,
        what to set, and what it will look like.
      </p>
      <div>
        <ElButton type="primary" :disabled="busy" @click="openDemo"> Open the demo plan </ElButton>
        <ElButton @click="starting = true"> Start with a mesh </ElButton>
      </div>
    </section>

    <ul v-else-if="plans" class="strips">
      <li v-for="plan in plans" :key="plan.id" class="strip-row">
        <RouterLink
          :to="{ name: 'plan', params: { id: plan.id, step: 'coats' } }"
          class="strip"
          data-test="plan"
        >
          <span class="picture">
            <img
              v-if="plan.pictured"
              :src="`/api/plans/${plan.id}/picture.png?v=${plan.version}`"
              alt=""
            />
            <small v-else role="status">getting ready …</small>
          </span>
          <span class="words">
            <span class="title">{{ plan.name }}</span>
            <span class="small"
              >{{ plan.copies === 1 ? 'one' : plan.copies }} × {{ plan.piece }} ·
              {{ plan.school }}</span
            >
            <span class="film" aria-hidden="true">
              <i v-for="(colour, i) in plan.film" :key="i" :style="{ background: colour }" />
            </span>
          </span>
        </RouterLink>
        <div class="next">
          <b>{{ where(plan) }}</b>
          <small :title="plan.stands?.first ?? undefined" class="first">{{ first(plan) }}</small>
          <ElButton @click="goOn(plan)">{{ NEXT[next(plan)].words }}</ElButton>
        </div>
        <ElDropdown trigger="click">
          <ElButton text :icon="MoreFilled" :aria-label="`More for ${plan.name}`" />
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem :disabled="busy" @click="putAway(plan, true)">
                Put into the trash
              </ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
      </li>
    </ul>
    <ElSkeleton v-else-if="!problem" :rows="6" animated aria-label="Looking for plans" />

    <StartDay v-model="several" :plans="plans ?? []" />
    <StartDialog v-model="starting" />
    <ElDialog v-model="showTrash" title="Trash" width="520px" append-to-body>
      <ul class="trash">
        <li v-for="plan in trashed" :key="plan.id">
          <span>{{ plan.name }}</span>
          <ElButton :disabled="busy" @click="putAway(plan, false)"> Take back </ElButton>
        </li>
      </ul>
      <p v-if="unused.count">
        {{ unused.count === 1 ? 'One mesh' : `${unused.count} meshes` }} no plan uses,
        {{ decimals(unused.size_bytes / 2 ** 20, 1) }} MiB
      </p>
      <ElButton :disabled="busy || !(trashed.length || unused.count)" @click="emptyTrash">
        Delete all of this for good
      </ElButton>
    </ElDialog>
  </div>
</template>

<style scoped>
.plans {
  height: 100%;
  overflow-y: auto;
  padding: 22px 26px;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
  padding-bottom: 16px;
}
h1 {
  font-size: 1.75rem;
}
.push {
  flex: 1;
}
.damaged {
  margin-bottom: 12px;
}
.empty {
  display: grid;
  gap: 16px;
  max-width: 560px;
  margin-top: 8vh;
  padding: 28px 32px;
  border-radius: var(--round);
  background: var(--sheet);
}
.empty div {
  display: flex;
  gap: 10px;
}
.strips {
  display: grid;
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.strips li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 260px auto;
  align-items: center;
  gap: 12px;
  padding-right: 16px;
  border-radius: var(--round);
  background: var(--sheet);
  overflow: hidden;
}
.strip {
  display: flex;
  align-items: stretch;
  gap: 22px;
  min-width: 0;
  color: inherit;
  text-decoration: none;
}
.strip:focus-visible {
  outline-offset: -4px;
  border-radius: var(--round);
}
.strip:hover .title {
  text-decoration: underline;
  text-decoration-thickness: 1px;
  text-underline-offset: 3px;
}
.picture {
  flex: none;
  display: grid;
  place-items: center;
  width: 170px;
  height: 152px;
  background: var(--card);
  text-align: center;
}
.picture img {
  width: 100%;
  height: 152px;
  object-fit: cover;
}
.picture small {
  padding: 12px;
  color: var(--on-card);
}
.words {
  display: grid;
  align-content: center;
  gap: 6px;
  min-width: 0;
  padding: 8px 0;
}
.title {
  font-size: var(--f18);
  font-weight: 680;
  overflow-wrap: anywhere;
}
.film {
  display: flex;
  max-width: 360px;
  height: 30px;
  margin-top: 6px;
  border-radius: 5px;
  overflow: hidden;
}
.film i {
  flex: 1;
}
.next {
  display: grid;
  justify-items: start;
  gap: 4px;
}
.first {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
.next .el-button {
  margin-top: 4px;
}
.trash {
  display: grid;
  gap: 8px;
  margin: 0 0 16px;
  padding: 0;
  list-style: none;
}
.trash li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
@media (max-width: 820px) {
  .strips .next {
    grid-row: 2;
    padding: 0 0 12px 12px;
  }
  .strips li.strip-row {
    grid-template-columns: minmax(0, 1fr) auto;
  }
}
@media (max-width: 1100px) {
  .strips li {
    grid-template-columns: minmax(0, 1fr) 190px auto;
  }
  .picture {
    width: 130px;
  }
}
</style>
