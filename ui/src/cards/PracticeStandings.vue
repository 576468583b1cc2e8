<script setup lang="ts">
import type { PracticeStanding } from '@/api/client';

import { LOOKS } from './measures';

/** How each look is known: of the last ten cards of it, and how subtle the next is. */
defineProps<{ standings: PracticeStanding[] }>();
const LEVELS = ['plain', 'closer', 'subtle'];
function told(s: PracticeStanding): string {
  if (!s.asked) return 'not shown yet';
  return s.taken_for ? `taken for ${LOOKS[s.taken_for].toLowerCase()}` : 'never mistaken';
}
</script>

<template>
  <dl aria-label="How each look is known">
    <div v-for="s in standings" :key="s.look" :data-test="`standing-${s.look}`">
      <dt>{{ LOOKS[s.look] }}</dt>
      <dd>
        <span class="track" aria-hidden="true"
          ><i :style="{ width: `${s.asked ? (s.right / s.asked) * 100 : 0}%` }"
        /></span>
        <b class="number">{{ s.asked ? `${s.right} of ${s.asked}` : '–' }}</b>
        <span class="small">{{ told(s) }} · next {{ LEVELS[s.level] }}</span>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  margin: 0;
  gap: 12px;
}
dt {
  font-weight: 640;
}
dd {
  display: grid;
  margin: 0;
  gap: 2px;
}
.track {
  height: 6px;
  overflow: hidden;
  border-radius: 3px;
  background: var(--well-2);
}
i {
  display: block;
  height: 100%;
  background: var(--ink);
}
.small {
  font-size: var(--f12);
  line-height: 1.3;
}
</style>
