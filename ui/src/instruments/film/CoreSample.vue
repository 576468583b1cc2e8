<script setup lang="ts">
import { computed } from 'vue';

import type { SampleOut } from '@/api/client';
import { decimals, share } from '@/displays/format';

/** The films at one point, newest on top: thickness on a square root scale, colour at each level. */
const props = defineProps<{ sample: SampleOut; title: string }>();
const PER_ROOT_UM = 15;
const rows = computed(() =>
  [...props.sample.layers].reverse().map((l) => ({
    ...l,
    height: l.film_um < 0.05 ? 3 : Math.max(5, Math.round(PER_ROOT_UM * Math.sqrt(l.film_um))),
  })),
);
</script>

<template>
  <table :aria-label="title">
    <caption>
      <b>{{ title }}</b>
      <small
        >{{ sample.part }} · {{ decimals(sample.total_um, 1) }} µm · light
        {{ share(sample.light) }}</small
      >
    </caption>
    <tbody>
      <tr v-for="r in rows" :key="r.step" :class="{ thin: r.film_um < 0.05 }">
        <td class="cut">
          <i :style="{ height: `${r.height}px`, background: r.colour }" />
        </td>
        <td class="name">{{ r.name }}</td>
        <td class="number">{{ decimals(r.film_um, 1) }} µm</td>
        <td class="number">{{ share(r.share) }}</td>
        <td class="number">{{ decimals(r.lightness, 0) }} L*</td>
      </tr>
      <tr>
        <td class="cut"><i :style="{ height: '10px', background: sample.bare }" /></td>
        <td class="name">bare surface</td>
        <td />
        <td />
        <td class="number">{{ decimals(sample.bare_lightness, 0) }} L*</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  border-collapse: collapse;
  font-size: var(--f14);
}
caption {
  text-align: left;
  padding-bottom: 4px;
}
caption small {
  display: block;
}
td {
  padding: 0 6px 0 0;
  vertical-align: middle;
}
.cut {
  width: 44px;
  padding-right: 8px;
}
.cut i {
  display: block;
  width: 44px;
  border-top: 1px solid #f4f4f4;
}
.name {
  max-width: 130px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.number {
  text-align: right;
  white-space: nowrap;
}
.thin {
  color: var(--ink-2);
}
</style>
