<script setup lang="ts">
import { ref, watch } from 'vue';

/** A name that is kept when left or confirmed; what is being typed is never overwritten. */
const props = defineProps<{ modelValue: string; label: string }>();
const emit = defineEmits<{ 'update:modelValue': [name: string]; focus: []; blur: [] }>();
const MOST = 120;
const text = ref(props.modelValue);
const typing = ref(false);

watch(
  () => props.modelValue,
  (now) => {
    if (!typing.value) text.value = now;
  },
);
function accept(): void {
  const name = text.value.trim().slice(0, MOST);
  text.value = name || props.modelValue;
  if (name && name !== props.modelValue) emit('update:modelValue', name);
}
function leave(): void {
  typing.value = false;
  text.value = text.value.trim() || props.modelValue;
  emit('blur');
}
</script>

<template>
  <input
    v-model="text"
    class="name"
    type="text"
    :maxlength="MOST"
    :aria-label="label"
    @focus="((typing = true), emit('focus'))"
    @change="accept"
    @blur="leave"
  />
</template>

<style scoped>
.name {
  width: 100%;
  min-width: 0;
  min-height: 44px;
  padding: 0 6px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--surface);
  color: var(--text);
  font: inherit;
  text-overflow: ellipsis;
}
</style>
