import { defineStore } from 'pinia';
import { ref } from 'vue';

import { api, take, type Shelf } from '@/api/client';

/** What stands on the shelf; loaded once. */
export const useShelf = defineStore('shelf', () => {
  const shelf = ref<Shelf>({ paints: [], thinners: [], airbrushes: [] });
  let loading: Promise<void> | null = null;

  function load(): Promise<void> {
    loading ??= take(api.GET('/api/shelf')).then(
      (found) => {
        shelf.value = found;
      },
      (error: unknown) => {
        loading = null;
        throw error;
      },
    );
    return loading;
  }

  /** What stands there now, after it was changed. */
  function reload(): Promise<void> {
    loading = null;
    return load();
  }

  return { shelf, load, reload };
});
