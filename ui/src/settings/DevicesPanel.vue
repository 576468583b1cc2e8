<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus';
import { computed, ref } from 'vue';

import { sentence, type DriveBody } from '@/api/client';
import { decimals, share } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';
import NumberField from '@/fields/NumberField.vue';
import RoomFields from '@/fields/RoomFields.vue';
import { useDevices } from '@/stores/devices';
import { useSettings } from '@/stores/settings';

/** The simulated devices: what they say, where they are driven, and every fault to be tried. */
const devices = useDevices();
const settings = useSettings();
const problem = ref('');
const on = computed(() => settings.values.devices === 'simulated');
const compressor = computed(() => devices.now?.compressor ?? null);

const FAULTS: { id: NonNullable<DriveBody['compressor_fault']>; label: string }[] = [
  { id: 'none', label: 'sound' },
  { id: 'sag', label: 'regulator worn: the line sags' },
  { id: 'leak', label: 'the tank leaks' },
  { id: 'hot', label: 'the motor has stopped, too hot' },
  { id: 'wet', label: 'water in the trap' },
];
async function drive(body: Partial<DriveBody>): Promise<void> {
  problem.value = '';
  try {
    await devices.drive(body);
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function turn(now: boolean): Promise<void> {
  try {
    await settings.set('devices', now ? 'simulated' : 'off');
  } catch (error) {
    problem.value = sentence(error);
  }
}
function room(change: { temperature_c?: number; humidity_pct?: number }): void {
  const now = devices.now?.room ?? { temperature_c: 20, humidity_pct: 50 };
  void drive({ ...now, ...change, at_once: true });
}
</script>

<template>
  <section class="devices" aria-label="Devices">
    <div class="row">
      <span>Simulated devices<br /><small>compressor, room sensor, pedal, to be tried</small></span>
      <ElSwitch
        :model-value="on"
        aria-label="Simulated devices"
        data-test="devices-on"
        @update:model-value="turn(!!$event)"
      />
    </div>
    <template v-if="on && devices.now">
      <p v-if="compressor" class="says number" data-test="gauges">
        line <b>{{ decimals(compressor.line_psi, 1) }} psi</b> · tank
        <b>{{ decimals(compressor.tank_psi, 0) }} psi</b> · motor
        <b>{{ compressor.motor ? 'runs' : 'rests' }}</b>, {{ share(compressor.duty_share) }} of the
        last half hour · trap <b>{{ share(compressor.moisture) }}</b> full
      </p>
      <p v-for="w in compressor?.warnings" :key="w" class="note">{{ w }}</p>
      <div class="pair">
        <NumberField
          v-if="compressor"
          label="Regulator"
          unit="psi"
          :min="0"
          :max="60"
          :step="0.5"
          :digits="1"
          :model-value="compressor.set_psi"
          @update:model-value="drive({ set_psi: $event })"
        />
        <ChoiceField
          v-if="compressor"
          label="Compressor is"
          :model-value="compressor.fault"
          :choices="FAULTS"
          data-test="compressor-fault"
          @update:model-value="drive({ compressor_fault: $event as DriveBody['compressor_fault'] })"
        />
      </div>
      <div class="acts">
        <ElSwitch
          v-if="compressor"
          :model-value="compressor.spraying"
          active-text="trigger down"
          aria-label="Trigger down"
          data-test="trigger-down"
          @update:model-value="drive({ spraying: !!$event })"
        />
        <ElButton size="small" @click="drive({ drain: true })">Drain the trap</ElButton>
      </div>
      <RoomFields
        :room="devices.now.room ?? { temperature_c: 20, humidity_pct: 50 }"
        @change="room"
      />
      <div class="row">
        <span>Sensor</span>
        <ElRadioGroup
          :model-value="devices.now.room_fault"
          aria-label="Sensor"
          @update:model-value="drive({ room_fault: $event === 'silent' ? 'silent' : 'none' })"
        >
          <ElRadioButton value="none">answers</ElRadioButton>
          <ElRadioButton value="silent">silent</ElRadioButton>
        </ElRadioGroup>
      </div>
      <div class="row">
        <span
          >Pedal <small>pressed {{ devices.now.presses }} times</small></span
        >
        <span>
          <ElButton size="small" data-test="pedal" @click="drive({ press: 'short' })"
            >Press</ElButton
          >
          <ElButton size="small" @click="drive({ press: 'long' })">Hold</ElButton>
        </span>
      </div>
    </template>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.devices {
  display: grid;
  gap: 10px;
}
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 56px;
  border-top: 1px solid var(--hair);
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.acts {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.says {
  line-height: 1.5;
}
</style>
