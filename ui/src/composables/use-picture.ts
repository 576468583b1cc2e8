import { useObjectUrl } from '@vueuse/core';
import { onScopeDispose, readonly, ref, shallowRef, watch, type Ref } from 'vue';

import { sentence, takeAnswer } from '@/api/client';

export interface Picture {
  /** Where the picture lies in this page; undefined until it is here. */
  url: Readonly<Ref<string | undefined>>;
  problem: Readonly<Ref<string>>;
}

/** A picture the server draws, however long the piece for it takes; the newest address counts. */
export function usePicture(src: () => string | null): Picture {
  const blob = shallowRef<Blob>();
  const problem = ref('');
  let turn = new AbortController();

  async function show(address: string | null): Promise<void> {
    turn.abort();
    const { signal } = (turn = new AbortController());
    problem.value = '';
    if (!address) {
      blob.value = undefined;
      return;
    }
    try {
      const found = await (await takeAnswer(address, { signal })).blob();
      if (!signal.aborted) blob.value = found;
    } catch (error) {
      if (signal.aborted) return;
      blob.value = undefined;
      problem.value = sentence(error);
    }
  }
  watch(src, (address) => void show(address), { immediate: true });
  onScopeDispose(() => turn.abort());
  return { url: useObjectUrl(blob), problem: readonly(problem) };
}
