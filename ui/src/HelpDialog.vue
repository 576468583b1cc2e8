<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed } from 'vue';
import { useRoute } from 'vue-router';

const route = useRoute();
const atCoats = computed(() => route.name === 'plan' && (route.params.step || 'coats') === 'coats');
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ tour: [] }>();

const KEYS: [string, string][] = [
  ['1 … 6', 'go to Piece, Light, Coats, Cups, Day, Booth'],
  ['[  ]', 'one coat back, one coat on'],
  ['V', 'see values only, and back'],
  ['L', 'next look'],
  ['A', 'work out the angles'],
  ['C', 'core sample at the middle of the picture; a click takes one there'],
  ['← → ↑ ↓', 'turn the piece; on the sky: move the station by 5°, with Shift by 1°'],
  ['Ctrl+Z', 'undo'],
  ['Ctrl+Shift+Z', 'redo'],
  ['?', 'this list'],
  ['Esc', 'close'],
];
const AT_THE_BOOTH: [string, string][] = [
  ['Space', 'next; held for a second: a problem. A pedal and Page Down do the same'],
  ['B', 'back: the last press is taken back'],
  ['P', 'a problem'],
  ['T', 'turn what gauge or room ask for'],
  ['W', 'begin the wait now'],
  ['S', 'skip this step'],
  ['R', 'do this coat again'],
  ['L', 'lay the rest of the day anew from now'],
  ['M', 'sound on and off'],
];
</script>

<template>
  <ElDialog v-model="open" title="Help" width="560px" append-to-body>
    <h3>Keys</h3>
    <dl>
      <template v-for="[key, text] in KEYS" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
    <h3>At the booth</h3>
    <dl>
      <template v-for="[key, text] in AT_THE_BOOTH" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
    <ElButton :disabled="!atCoats" @click="emit('tour')">Show me round</ElButton>
    <small v-if="!atCoats"> under Coats of a plan</small>
    <p class="small">
      Numbers come from the model unless you typed them. Predicted colours and settings are a start:
      try each cup on card first.
    </p>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 6px 12px;
  margin: 10px 0 20px;
}
dd {
  margin: 0;
}
p {
  margin-top: 12px;
}
</style>
