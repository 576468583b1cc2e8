<script setup lang="ts">
import { ref, watch } from 'vue';

/** A colour typed as #rrggbb or picked; what is not a colour is told and not taken. */
const props = defineProps<{ label: string; modelValue: string }>();
const emit = defineEmits<{ 'update:modelValue': [value: string] }>();
const text = ref(props.modelValue);
const wrong = ref('');
watch(
  () => props.modelValue,
  (now) => {
    text.value = now;
    wrong.value = '';
  },
);
function accept(): void {
  const typed = text.value.trim().toLowerCase();
  const full = typed.startsWith('#') ? typed : `#${typed}`;
  if (!/^#[0-9a-f]{6}$/.test(full)) {
    wrong.value = `${props.label} takes # and six digits 0 to 9, a to f, such as #7a8f5c.`;
    return;
  }
  wrong.value = '';
  text.value = full;
  if (full !== props.modelValue) emit('update:modelValue', full);
}
</script>

<template>
  <div class="colour">
    <label>
      <span class="small">{{ label }}</span>
      <span class="row">
        <input
          type="color"
          :aria-label="`${label}, picked`"
          :value="modelValue"
          @input="emit('update:modelValue', ($event.target as HTMLInputElement).value)"
        />
        <input
          v-model="text"
          class="mono"
          :aria-label="label"
          maxlength="9"
          @change="accept"
          @keydown.enter.prevent="accept"
        />
      </span>
    </label>
    <p v-if="wrong" class="small" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
label {
  display: grid;
  gap: 2px;
}
.row {
  display: flex;
}
input {
  min-height: 44px;
  border: 1px solid var(--edge);
  background: var(--surface);
  color: var(--text);
}
input[type='color'] {
  flex: none;
  width: 52px;
  padding: 3px;
  border-radius: 3px 0 0 3px;
}
.mono {
  min-width: 0;
  width: 100%;
  padding: 0 8px;
  border-left: 0;
  border-radius: 0 3px 3px 0;
  font-size: var(--f16);
}
</style>
