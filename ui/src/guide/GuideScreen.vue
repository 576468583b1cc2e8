<script setup lang="ts">
import MarkdownIt from 'markdown-it';
import { nextTick, onMounted } from 'vue';
import { useRoute } from 'vue-router';

import text from '../../../docs/guide.md?raw';

/** The guide as it lies with the documents, with its pictures. */
const PICTURES = import.meta.glob<string>('../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
});
const route = useRoute();

function anchor(heading: string): string {
  return heading.toLowerCase().replace(/[^a-z0-9]+/g, '-');
}
const markdown = new MarkdownIt();
const plain = markdown.renderer.rules.code_inline!;
markdown.renderer.rules.code_inline = (tokens, at, ...more) => {
  const key = /^\[(.+)\]$/.exec(tokens[at]!.content);
  return key ? `<kbd>${markdown.utils.escapeHtml(key[1]!)}</kbd>` : plain(tokens, at, ...more);
};
markdown.renderer.rules.image = (tokens, at) => {
  const token = tokens[at]!;
  const name = token.attrGet('src')?.split('/').at(-1);
  const url = Object.entries(PICTURES).find(([path]) => path.endsWith(`/${name}`))?.[1] ?? '';
  return `<img src="${url}" alt="${markdown.utils.escapeHtml(token.content)}" loading="lazy" />`;
};
markdown.renderer.rules.heading_open = (tokens, at) => {
  const { tag } = tokens[at]!;
  return `<${tag} id="${anchor(tokens[at + 1]!.content)}">`;
};
const html = markdown.render(text);
const chapters = [...text.matchAll(/^## (.+)$/gm)].map((m) => ({
  id: anchor(m[1]!),
  words: m[1]!,
}));

function show(id: string): void {
  document.getElementById(id)?.scrollIntoView({ block: 'start' });
}
onMounted(async () => {
  await nextTick();
  if (route.hash) show(route.hash.slice(1));
});
</script>

<template>
  <div class="guide">
    <nav class="sheet" aria-label="Chapters">
      <RouterLink
        v-for="c in chapters"
        :key="c.id"
        :to="{ name: 'guide', hash: `#${c.id}` }"
        replace
        @click="show(c.id)"
        >{{ c.words }}</RouterLink
      >
    </nav>
    <!-- eslint-disable-next-line vue/no-v-html -- a document of ours, built in -->
    <article class="sheet" tabindex="0" data-test="guide" v-html="html" />
  </div>
</template>

<style scoped>
.guide {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr);
  gap: 10px;
  height: 100%;
  padding: 12px;
}
nav {
  display: grid;
  align-content: start;
  gap: 2px;
  overflow-y: auto;
}
nav a {
  display: flex;
  align-items: center;
  min-height: var(--control);
  padding: 4px 6px;
  border-radius: 6px;
  text-decoration: none;
}
nav a:hover {
  background: var(--well);
}
article {
  overflow-y: auto;
  padding: 20px 32px 60px;
}
article :deep(> *) {
  max-width: 720px;
}
article :deep(h2) {
  margin: 36px 0 10px;
}
article :deep(p),
article :deep(ol),
article :deep(ul) {
  margin: 0 0 12px;
  line-height: 1.5;
}
article :deep(ol),
article :deep(ul) {
  padding-left: 22px;
}
article :deep(img) {
  display: block;
  width: 100%;
  margin: 8px 0 16px;
  border: 1px solid var(--hair);
  border-radius: var(--round);
}
article :deep(kbd),
article :deep(code) {
  padding: 1px 6px;
  border-radius: 5px;
  background: var(--well-2);
  font-family: var(--mono);
  font-size: 0.92em;
}
@media (max-width: 820px) {
  .guide {
    grid-template-columns: minmax(0, 1fr);
  }
  nav {
    display: none;
  }
}
</style>
