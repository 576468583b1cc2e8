import { useLocalStorage } from '@vueuse/core';
import type { Ref } from 'vue';

const TONES_HZ = [660, 880, 660];
const TONE_S = 0.18;

/** A short ring when a wait is over; off by one key, and it stays off. */
export function useSound(): { on: Ref<boolean>; toggle: () => void; ring: () => void } {
  const on = useLocalStorage('haze-booth-sound', true);
  let audio: AudioContext | null = null;

  function ring(): void {
    if (!on.value) return;
    try {
      audio ??= new AudioContext();
    } catch {
      return; // no sound here
    }
    const begin = audio.currentTime;
    TONES_HZ.forEach((hz, n) => {
      const tone = audio!.createOscillator();
      const loud = audio!.createGain();
      tone.frequency.value = hz;
      loud.gain.setValueAtTime(0.25, begin + n * TONE_S);
      loud.gain.exponentialRampToValueAtTime(0.001, begin + (n + 1) * TONE_S);
      tone.connect(loud).connect(audio!.destination);
      tone.start(begin + n * TONE_S);
      tone.stop(begin + (n + 1) * TONE_S);
    });
  }
  return { on, toggle: () => (on.value = !on.value), ring };
}
