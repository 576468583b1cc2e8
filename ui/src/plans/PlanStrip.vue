<script setup lang="ts">
import { MoreFilled } from '@element-plus/icons-vue';
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { computed } from 'vue';
import { useRouter } from 'vue-router';

import type { PlanSummary } from '@/api/client';
import { placeOf } from '@/router';

import { first, nextOf, underWay, where } from './plan-state';

/** A plan in the list: its picture, its film on its side, where it stands, what comes next. */
const props = defineProps<{ plan: PlanSummary; busy: boolean }>();
const emit = defineEmits<{ again: []; turntable: []; duplicate: []; group: []; away: [] }>();
const router = useRouter();
const RECIPES = [
  { as: 'pdf?paper=a4', words: 'Recipe on paper, A4' },
  { as: 'pdf?paper=letter', words: 'Recipe on paper, Letter' },
  { as: 'png', words: 'Recipe as a picture' },
];
const next = computed(() => nextOf(props.plan));

function goOn(): void {
  if (next.value.step === null) emit('again');
  else void router.push(placeOf(props.plan.id, next.value.step));
}
function recipe(as: string): void {
  window.open(`/api/plans/${props.plan.id}/recipe.${as}`);
}
/** The answer is a file to be kept: the page stays. */
function save(): void {
  window.location.assign(`/api/plans/${props.plan.id}/plan.haze`);
}
function lastSession(): void {
  const id = props.plan.done?.session;
  if (id) void router.push({ name: 'notebook', params: { what: 'session', id } });
}
</script>

<template>
  <li class="strip-row">
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
          loading="lazy"
        />
        <small v-else role="status">loading …</small>
      </span>
      <span class="words">
        <span class="title">{{ plan.name }}</span>
        <span class="small"
          >{{ plan.piece }} · {{ plan.copies }} {{ plan.copies === 1 ? 'copy' : 'copies' }} ·
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
      <ElButton :type="underWay(plan) ? 'primary' : undefined" data-test="next" @click="goOn">{{
        next.words
      }}</ElButton>
    </div>
    <ElDropdown trigger="click">
      <ElButton text :icon="MoreFilled" :aria-label="`More for ${plan.name}`" />
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem @click="emit('again')">Repeat …</ElDropdownItem>
          <ElDropdownItem :disabled="busy" @click="emit('duplicate')">Duplicate</ElDropdownItem>
          <ElDropdownItem :disabled="busy" @click="emit('group')">Move to group …</ElDropdownItem>
          <ElDropdownItem v-for="r in RECIPES" :key="r.as" @click="recipe(r.as)">{{
            r.words
          }}</ElDropdownItem>
          <ElDropdownItem :disabled="!plan.pictured" @click="emit('turntable')"
            >Turntable …</ElDropdownItem
          >
          <ElDropdownItem @click="save">Export</ElDropdownItem>
          <ElDropdownItem v-if="plan.done" @click="lastSession">Its last session</ElDropdownItem>
          <ElDropdownItem :disabled="busy" @click="emit('away')">Delete</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </li>
</template>

<style scoped>
.strip-row {
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
@media (max-width: 1100px) {
  .strip-row {
    grid-template-columns: minmax(0, 1fr) 190px auto;
  }
  .picture {
    width: 130px;
  }
}
@media (max-width: 820px) {
  .next {
    grid-row: 2;
    padding: 0 0 12px 12px;
  }
  .strip-row {
    grid-template-columns: minmax(0, 1fr) auto;
  }
}
</style>
