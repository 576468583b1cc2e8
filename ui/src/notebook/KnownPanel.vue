<script setup lang="ts">
import { ElButton, ElCollapse, ElCollapseItem } from 'element-plus';
import { onMounted, ref, shallowRef } from 'vue';

import { api, sentence, take, type KnownPage } from '@/api/client';
import { decimals, needleBeside, share, shortDay, when } from '@/displays/format';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';

/** What is known of a paint or an airbrush, how sure that is, its trials, and what is left. */
const props = defineProps<{ what: 'paint' | 'airbrush'; id: string }>();
const emit = defineEmits<{ changed: [] }>();
const page = shallowRef<KnownPage | null>(null);
const problem = ref('');
const open = ref<string[]>([]);
const LATENTS: Record<string, string> = {
  viscosity: 'thickness',
  droplet: 'droplet size',
  creep: 'how soon it runs',
  width: 'width of the spot',
  flow: 'paint at the same stop',
};

async function load(): Promise<void> {
  const params = { path: { known_id: props.id } };
  try {
    page.value = await take(
      props.what === 'paint'
        ? api.GET('/api/notebook/paint/{known_id}', { params })
        : api.GET('/api/notebook/airbrush/{known_id}', { params }),
    );
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
async function takeBack(trial: string, back: boolean): Promise<void> {
  try {
    await take(
      api.POST('/api/trials/{trial_id}/back', {
        params: { path: { trial_id: trial } },
        body: { back },
      }),
    );
    await load();
    emit('changed');
  } catch (error) {
    problem.value = sentence(error);
  }
}
/** How likely each look is where it was last tried. */
function looks(of: KnownPage['pairs'][number]['looks']): Figure[] {
  const from = 'from the model and all trials, at the setting it was last tried at';
  return (['clean', 'spiders', 'specks', 'dust'] as const).map((look) => ({
    word: look,
    value: share(of[look]),
    from,
  }));
}
function times(value: number): string {
  return `× ${decimals(value, 2)}`;
}
</script>

<template>
  <aside class="known" aria-label="What Haze knows" data-test="known-page">
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <template v-if="page">
      <header>
        <i v-if="page.colour" class="chip" :style="{ background: page.colour }" />
        <div>
          <h2>{{ page.name }}</h2>
          <p class="small">
            {{ page.about
            }}<template v-if="page.ml_left !== null && page.ml_left !== undefined">
              · {{ decimals(page.ml_left, 1) }} ml left</template
            ><template v-if="!page.on_shelf"> · not on the shelf</template>
          </p>
        </div>
      </header>
      <p v-if="!page.pairs.length" class="small">Never tried on card: it is as the tables say.</p>
      <section v-for="p in page.pairs" :key="`${p.paint} ${p.airbrush} ${p.needle_mm}`">
        <h3>
          {{ what === 'paint' ? `In the ${p.airbrush_name}` : p.paint_name }}
          <small>{{
            what === 'paint'
              ? needleBeside(p.airbrush_name, p.needle_mm)
              : needleBeside('', p.needle_mm)
          }}</small>
        </h3>
        <p>{{ p.words }}</p>
        <p class="small">{{ p.sure }}</p>
        <FigureRow :figures="looks(p.looks)" />
        <ElCollapse v-model="open">
          <ElCollapseItem
            :name="`${p.paint} ${p.airbrush}`"
            :title="p.trials.length === 1 ? 'Its trial' : `Its ${p.trials.length} trials`"
          >
            <dl>
              <template v-for="(l, name) in p.latents" :key="name">
                <dt>{{ LATENTS[name] ?? name }}</dt>
                <dd class="number">
                  {{ times(l.mean) }} <small>{{ times(l.low) }} to {{ times(l.high) }}</small>
                </dd>
              </template>
            </dl>
            <ul>
              <li v-for="t in p.trials" :key="t.id" :class="{ off: !t.counts }">
                <span
                  ><b>{{ t.look.replace('_', ' ') }}</b>
                  <small
                    >{{ decimals(t.setting.pressure_psi, 1) }} psi,
                    {{ decimals(t.setting.thinner_parts, 2) }}:1 · {{ when(t.at) }}</small
                  ></span
                >
                <ElButton text size="small" @click="takeBack(t.id, t.counts)">{{
                  t.counts ? 'Undo' : 'Count again'
                }}</ElButton>
              </li>
            </ul>
          </ElCollapseItem>
        </ElCollapse>
      </section>
      <section v-if="page.sessions.length" aria-label="Sessions with it">
        <h3>Sessions with it</h3>
        <ul>
          <li v-for="s in page.sessions" :key="s.id">
            <RouterLink :to="{ name: 'notebook', params: { what: 'session', id: s.id } }">{{
              s.name
            }}</RouterLink>
            <small>{{ shortDay(s.date) }}</small>
          </li>
        </ul>
      </section>
    </template>
    <p v-else-if="!problem" class="small">Opening …</p>
  </aside>
</template>

<style scoped>
.known {
  display: grid;
  align-content: start;
  gap: 14px;
  overflow-y: auto;
}
header {
  display: flex;
  align-items: center;
  gap: 12px;
}
.chip {
  width: 44px;
  height: 44px;
  border-radius: 8px;
  box-shadow: inset 0 0 0 1px rgb(0 0 0 / 20%);
}
section {
  display: grid;
  gap: 6px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  min-height: 36px;
  border-bottom: 1px solid var(--hair);
}
li.off {
  text-decoration: line-through;
}
li a {
  color: var(--ink);
}
dl {
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 12px;
  margin: 0 0 8px;
}
dd {
  margin: 0;
  text-align: right;
}
</style>
