<script setup lang="ts">
defineProps<{ sign: 'clean' | 'mind' | 'stop' | 'unknown'; word?: string }>();
const MARKS = {
  clean: 'M3 8.5 6.5 12 13 4.5',
  mind: 'M8 3v6M8 12v1',
  stop: 'M4 4l8 8M12 4l-8 8',
  unknown: 'M8 12v1M5.5 6a2.5 2.5 0 1 1 2.5 3',
};
</script>

<template>
  <span class="sign" :class="sign">
    <svg viewBox="0 0 16 16" aria-hidden="true"><path :d="MARKS[sign]" /></svg>
    <span>{{ word ?? sign }}</span>
  </span>
</template>

<style scoped>
.sign {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  line-height: 1.4;
  font-size: var(--f14);
  font-weight: 600;
}
svg {
  flex: none;
  width: 14px;
  height: 14px;
  fill: none;
  stroke: currentcolor;
  stroke-width: 2.2;
  stroke-linecap: round;
}
.clean {
  color: var(--sign-clean);
}
.mind {
  color: var(--sign-mind);
}
.stop {
  color: var(--sign-stop);
}
.unknown {
  color: var(--sign-unknown);
}
</style>
