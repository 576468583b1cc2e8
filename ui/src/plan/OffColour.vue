<script setup lang="ts">
import { ElButton } from 'element-plus';

import { usePlan } from '@/stores/plan';

/** How near the plan ends to the colour its scheme was asked for, and where it is missed. */
const store = usePlan();
</script>

<template>
  <p v-if="store.workings?.off_colour" class="small" data-test="off-colour">
    {{ store.workings.off_colour.words }}
    <ElButton link @click="store.look = 'off_colour'">Show where</ElButton>
  </p>
</template>
