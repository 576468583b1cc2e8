<script setup lang="ts">
import { ElUpload, type UploadFile } from 'element-plus';

/** Takes one file of the painter's; what is done with it is the caller's. */
defineProps<{ accept: string; label: string }>();
const emit = defineEmits<{ chosen: [file: File] }>();
function take(file: UploadFile): void {
  if (file.raw) emit('chosen', file.raw);
}
</script>

<template>
  <ElUpload
    action=""
    :accept="accept"
    :auto-upload="false"
    :show-file-list="false"
    :on-change="take"
  >
    <span class="el-button">{{ label }}</span>
  </ElUpload>
</template>
