<script setup lang="ts">
import { ElProgress } from 'element-plus';

/** How far a piece of work is: a share, 0 to 1, and what is being done for whoever hears the bar. */
defineProps<{ share: number; doing: string; bare?: boolean }>();
</script>

<template>
  <ElProgress
    :percentage="Math.round(share * 100)"
    :stroke-width="8"
    :show-text="!bare"
    :aria-label="doing"
  />
</template>
