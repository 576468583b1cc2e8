<script setup lang="ts">
import type { Compared } from '@/api/client';
import StatusSign from '@/displays/StatusSign.vue';
import { decimals } from '@/displays/format';

/** Each part's highlights, middle and shadows, planned beside seen, and what to do. */
defineProps<{ told: Compared }>();
const ROWS = [
  ['light', 'Lightest'],
  ['middle', 'Middle'],
  ['dark', 'Darkest'],
] as const;
</script>

<template>
  <section class="regions" role="status" aria-labelledby="beside" data-test="compared">
    <h2 id="beside">Planned and painted</h2>
    <div v-for="r in told.regions" :key="r.part" class="region">
      <h3>
        {{ r.part }} <small>{{ decimals(r.share * 100, 0) }} % of it seen</small>
      </h3>
      <dl>
        <div v-for="[name, label] in ROWS" :key="name">
          <dt>{{ label }}</dt>
          <dd class="bar" aria-hidden="true">
            <i class="planned" :style="{ left: `${r.planned[name]}%` }" />
            <i
              class="seen"
              :style="{
                left: `${Math.max(0, r.seen[name] - r.unsure)}%`,
                width: `${2 * r.unsure}%`,
              }"
            />
          </dd>
          <dd class="number">
            <b>{{ decimals(r.seen[name], 0) }}</b>
            <span class="small"> planned {{ decimals(r.planned[name], 0) }}</span>
          </dd>
        </div>
      </dl>
      <StatusSign :sign="r.sign" :word="r.words" />
    </div>
    <p class="small">Lightness in L*; bars are what was seen, lines what was planned.</p>
    <p v-for="t in told.trust" :key="t" class="small">{{ t }}</p>
  </section>
</template>

<style scoped>
.regions {
  display: grid;
  gap: 10px;
}
.region {
  display: grid;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--hair);
  gap: 4px;
}
dl {
  margin: 0;
}
dl div {
  display: grid;
  grid-template-columns: 66px minmax(40px, 1fr) 108px;
  align-items: center;
  gap: 8px;
}
dd {
  margin: 0;
}
.number {
  text-align: right;
}
.bar {
  position: relative;
  height: 12px;
  border-radius: 3px;
  background: linear-gradient(90deg, #161616, #f4f4f4);
}
.bar i {
  position: absolute;
  top: -1px;
  height: 14px;
}
.planned {
  width: 3px;
  transform: translateX(-1px);
  background: #fff;
  outline: 1.5px solid #1a1a1a;
}
.seen {
  border: 2px solid #1a1a1a;
  border-radius: 3px;
  outline: 1px solid #fff;
}
</style>
