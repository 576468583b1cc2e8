<script setup lang="ts">
import { ElButton, ElDialog, ElMessageBox } from 'element-plus';

/** What was deleted: each can be restored, all of it deleted permanently. */
export interface PutAway {
  id: string;
  name: string;
  /** Told small beside the name. */
  more?: string;
  /** Address of a picture of it. */
  picture?: string;
  /** Its colour. */
  chip?: string;
}
const open = defineModel<boolean>({ required: true });
const props = defineProps<{
  title: string;
  things: PutAway[];
  /** What deleting does, and what it leaves. */
  warning: string;
  busy?: boolean;
  /** Whether there is more to delete than the things. */
  besides?: boolean;
}>();
const emit = defineEmits<{ back: [id: string]; empty: [] }>();

async function empty(): Promise<void> {
  const sure = await ElMessageBox.confirm(props.warning, 'Empty the trash', {
    confirmButtonText: 'Delete permanently',
    cancelButtonText: 'Cancel',
  }).catch(() => null);
  if (!sure) return;
  open.value = false;
  emit('empty');
}
</script>

<template>
  <ElDialog v-model="open" :title="title" width="min(520px, 94vw)" append-to-body>
    <ul data-test="in-trash">
      <li v-for="t in things" :key="t.id">
        <img v-if="t.picture" :src="t.picture" alt="" />
        <i v-if="t.chip" :style="{ background: t.chip }" />
        <span
          >{{ t.name }} <small v-if="t.more">{{ t.more }}</small></span
        >
        <ElButton :disabled="busy" :aria-label="`Restore ${t.name}`" @click="emit('back', t.id)"
          >Restore</ElButton
        >
      </li>
    </ul>
    <slot />
    <ElButton :disabled="busy || !(things.length || besides)" data-test="empty-trash" @click="empty"
      >Delete permanently</ElButton
    >
  </ElDialog>
</template>

<style scoped>
ul {
  display: grid;
  gap: 8px;
  max-height: 56vh;
  margin: 0 0 16px;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  gap: 10px;
}
span {
  overflow-wrap: anywhere;
}
.el-button {
  margin-left: auto;
}
img {
  width: 56px;
  height: 44px;
  object-fit: cover;
  border-radius: 4px;
}
i {
  flex: none;
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
}
</style>
