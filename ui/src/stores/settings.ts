import { defineStore } from 'pinia';
import { computed, ref, watchEffect } from 'vue';

import { api, take } from '@/api/client';
import { chosen } from '@/displays/units';

/** Settings of the house, kept by the server. */
export const useSettings = defineStore('settings', () => {
  const values = ref<Record<string, string>>({
    pressure_unit: 'psi',
    length_unit: 'mm',
    temperature_unit: 'c',
    volume_unit: 'drops',
    decimal_sign: 'auto',
    trade_words: 'short',
    theme: 'daylight',
    single_keys: 'on',
    tour: 'seen',
  });

  /** Sentences that stand on every screen. */
  const notices = ref<string[]>([]);

  const loaded = ref(false);
  async function load(): Promise<void> {
    const found = await take(api.GET('/api/settings'));
    values.value = found.settings;
    notices.value = found.notices;
    loaded.value = true;
  }

  async function set(name: string, value: string): Promise<void> {
    values.value = (await take(api.PUT('/api/settings', { body: { name, value } }))).settings;
  }

  const singleKeys = computed(() => values.value.single_keys === 'on');
  watchEffect(() => {
    document.documentElement.dataset.theme = values.value.theme;
    Object.assign(chosen, {
      length: values.value.length_unit,
      temperature: values.value.temperature_unit,
      volume: values.value.volume_unit,
      decimal: values.value.decimal_sign,
    });
  });

  return { values, loaded, notices, singleKeys, load, set };
});
