<script setup lang="ts">
import { ElButton } from 'element-plus';

import type { SessionLine } from '@/api/client';
import { usePortions } from '@/composables/use-portions';
import { hoursWords, shortDay } from '@/displays/format';

import RatingDots from './RatingDots.vue';

/** Sessions, the last first; arrow keys go from one to the next. */
const props = defineProps<{ sessions: SessionLine[]; chosen: string | null }>();
const emit = defineEmits<{ choose: [id: string] }>();
const drawn = usePortions(() => props.sessions.length);

function planned(s: SessionLine): string {
  return s.planned_min === null || s.planned_min === undefined
    ? 'nothing planned'
    : `planned ${hoursWords(s.planned_min)}`;
}
function troubles(s: SessionLine): string {
  if (!s.troubles) return 'no trouble';
  return s.troubles === 1 ? '1 trouble' : `${s.troubles} troubles`;
}
function move(event: KeyboardEvent, by: number): void {
  const rows = [
    ...(event.currentTarget as HTMLElement)
      .closest('ul')!
      .querySelectorAll<HTMLButtonElement>('button'),
  ];
  const next = rows[rows.indexOf(event.currentTarget as HTMLButtonElement) + by];
  if (!next) return;
  event.preventDefault();
  next.focus();
  next.click();
}
</script>

<template>
  <ul class="sessions" aria-label="Sessions">
    <li v-for="s in sessions.slice(0, drawn)" :key="s.id">
      <ElButton
        text
        class="row"
        :class="{ chosen: s.id === chosen }"
        :aria-pressed="s.id === chosen"
        data-test="session"
        @click="emit('choose', s.id)"
        @keydown.down="move($event, 1)"
        @keydown.up="move($event, -1)"
      >
        <span class="small number">{{ shortDay(s.date) }}</span>
        <span class="two">
          <b>{{ s.name }}</b>
          <small>{{ s.what || 'working it out' }}</small>
        </span>
        <span class="two">
          <b class="number">{{
            s.kind === 'cards' && s.minutes < 1 ? '–' : hoursWords(s.minutes)
          }}</b>
          <small>{{ planned(s) }}</small>
        </span>
        <span class="small">{{ troubles(s) }}</span>
        <RatingDots :value="s.rating ?? null" />
      </ElButton>
    </li>
    <li ref="end" aria-hidden="true" />
  </ul>
</template>

<style scoped>
.sessions {
  margin: 0;
  padding: 0;
  list-style: none;
}
.row.el-button {
  width: 100%;
  height: auto;
  min-height: 64px;
  padding: 8px 10px;
  border-radius: 0;
  border-bottom: 1px solid var(--hair);
  font-weight: 400;
  text-align: left;
  white-space: normal;
}
.row :deep(> span) {
  display: grid;
  flex: 1;
  grid-template-columns: 92px minmax(0, 1fr) 120px 100px 76px;
  align-items: center;
  gap: 12px;
}
.row.el-button.row {
  color: var(--ink);
}
.row.el-button.chosen {
  border-radius: 8px;
  background: var(--well-2);
}
.row:focus-visible {
  outline-offset: -3px;
}
.two {
  display: grid;
  min-width: 0;
}
.two b {
  font-weight: 680;
  overflow-wrap: anywhere;
}
@media (max-width: 1100px) {
  .row :deep(> span) {
    grid-template-columns: 62px minmax(0, 1fr) 112px;
  }
}
</style>
