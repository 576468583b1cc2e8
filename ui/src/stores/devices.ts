import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';

import { api, take, type DevicesView, type DriveBody } from '@/api/client';
import { useSettings } from '@/stores/settings';

/** Compressor, room sensor and pedal as they stand, heard on one open request. */
export const useDevices = defineStore('devices', () => {
  const settings = useSettings();
  const now = shallowRef<DevicesView | null>(null);
  /** Counts presses of the pedal; the page that listens acts on each once. */
  const pressed = ref(0);
  let stream: EventSource | null = null;

  function listen(): void {
    stream?.close();
    stream = null;
    now.value = null;
    if (settings.values.devices !== 'simulated') return;
    stream = new EventSource('/api/devices/events');
    stream.onmessage = (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as DevicesView;
      const before = now.value;
      now.value = told;
      if (before && told.presses > before.presses) pressed.value += 1;
    };
  }
  watch(() => settings.values.devices, listen, { immediate: true });

  async function drive(body: Partial<DriveBody>): Promise<void> {
    now.value = await take(api.POST('/api/devices', { body: body as DriveBody }));
  }
  return { now, pressed, drive };
});
