<script setup lang="ts">
import { ElButton } from 'element-plus';
import { onMounted, shallowRef, ref } from 'vue';
import { useIntervalFn } from '@vueuse/core';

import { api, Refused, sentence, take, type TabletsView } from '@/api/client';
import { when } from '@/displays/format';

/** Tablets at the booth: the code that lets one in, and those that are in. */
const LOOKED_EVERY_MS = 3000;
const found = shallowRef<TabletsView | null>(null);
const problem = ref('');
/** On a tablet itself nothing of this can be done. */
const here = ref(true);

async function load(): Promise<void> {
  try {
    found.value = await take(api.GET('/api/tablets'));
  } catch (error) {
    if (error instanceof Refused && error.code === 'desk') here.value = false;
    else problem.value = sentence(error);
  }
}
async function newCode(): Promise<void> {
  problem.value = '';
  try {
    found.value = await take(api.POST('/api/tablets/code'));
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function revoke(id: string): Promise<void> {
  problem.value = '';
  try {
    found.value = await take(
      api.DELETE('/api/tablets/{tablet_id}', { params: { path: { tablet_id: id } } }),
    );
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
// a tablet that was let in stands in the list at once, and its code is gone
useIntervalFn(() => {
  if (found.value?.code) void load();
}, LOOKED_EVERY_MS);
</script>

<template>
  <section v-if="here && found" class="tablets" aria-label="Tablets">
    <div class="row">
      <span
        >Tablets at the booth<br /><small>{{
          found.open ? `they come to ${found.address}` : 'only this machine is answered'
        }}</small></span
      >
      <ElButton v-if="found.open" data-test="new-code" @click="newCode">{{
        found.code ? 'Another code' : 'Let a tablet in'
      }}</ElButton>
    </div>
    <p v-if="!found.open" class="small">
      To let a tablet of this room in, start Haze with
      <code>--host 0.0.0.0 --tablets</code>: over a certificate of its own, each tablet by a code.
    </p>
    <div v-if="found.code" class="code">
      <img v-if="found.qr" :src="found.qr" alt="The address with the code, to be photographed" />
      <div>
        <p class="digits mono" data-test="code">
          {{ found.code.slice(0, 4) }} {{ found.code.slice(4) }}
        </p>
        <p class="small">
          Open {{ found.address }} on the tablet, or photograph the picture. The code lets one
          tablet in and holds for ten minutes. The tablet warns of a certificate it does not know:
          it should be this one:
        </p>
        <p class="small mono print">{{ found.fingerprint }}</p>
      </div>
    </div>
    <ul v-if="found.tablets.length">
      <li v-for="t in found.tablets" :key="t.id">
        <span
          >{{ t.name }}<br /><small>last here {{ when(t.last_seen_at) }}</small></span
        >
        <ElButton text :aria-label="`Show out ${t.name}`" @click="revoke(t.id)">Show out</ElButton>
      </li>
    </ul>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.tablets {
  display: grid;
  gap: 8px;
  padding-bottom: 8px;
}
.row,
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 56px;
  border-top: 1px solid var(--hair);
}
.code {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 14px;
  align-items: start;
}
.code img {
  width: 150px;
  border-radius: 6px;
  background: #fff;
}
.digits {
  font-size: 2rem;
  font-weight: 700;
}
.print {
  font-size: var(--f12);
  overflow-wrap: anywhere;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
