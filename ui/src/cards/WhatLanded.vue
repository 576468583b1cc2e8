<script setup lang="ts">
import type { CardRead } from '@/api/client';

import { measureRows } from './measures';

/** What was measured beside what was foreseen; a row that is looked at shows where on the photo. */
defineProps<{ found: CardRead }>();
const emit = defineEmits<{ look: [measure: string | null] }>();
</script>

<template>
  <section aria-labelledby="landed">
    <h2 id="landed">What landed</h2>
    <dl>
      <div
        v-for="row in measureRows(found)"
        :key="row.name"
        class="row"
        :data-test="`measure-${row.name}`"
        @mouseenter="emit('look', row.name)"
        @mouseleave="emit('look', null)"
      >
        <dt>{{ row.label }}</dt>
        <dd>
          <b>{{ row.measure.words }}</b>
        </dd>
        <dd class="small">{{ row.measure.foreseen_words }}</dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
h2 {
  margin: 0 0 6px;
}
dl {
  margin: 0;
}
.row {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr) auto;
  align-items: baseline;
  gap: 8px;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
dd {
  margin: 0;
}
@media (max-width: 1150px) {
  .row {
    grid-template-columns: 104px minmax(0, 1fr);
    row-gap: 0;
  }
  dd.small {
    grid-column: 2;
  }
}
</style>
