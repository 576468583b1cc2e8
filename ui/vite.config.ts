import { fileURLToPath } from 'node:url';

import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

import { licences } from './licences.ts';

/** Kinds and parts of Element Plus' components that no screen of ours has. */
const NEVER =
  /\.el-(button--(success|warning|info|danger)|tag--(success|warning|danger|plain|dark|round|hit)|[a-z-]+--large|button-group|segmented--vertical|(select|input|table|segmented|switch|tag|checkbox|progress|color-picker|radio-button)--small|upload-list|upload--picture|input-group|input__count|checkbox-button|table--border|table-filter|table__(append|footer|expand|tooltip)|switch__core-|alert--(success|info)|color-(alpha|predefine)|progress--(circle|dashboard|success|warning|exception)|message-box--|drawer__sidebar|tour--|radio__|radio--|radio\.|select__tags|skeleton--)/;
const dropped = {
  postcssPlugin: 'drop-what-is-never-shown',
  Rule(rule: { selectors: string[]; remove: () => void }) {
    const kept = rule.selectors.filter((s) => !NEVER.test(s));
    if (!kept.length) rule.remove();
    else if (kept.length < rule.selectors.length) rule.selectors = kept;
  },
};

export default defineConfig({
  plugins: [vue(), licences()],
  css: { postcss: { plugins: [dropped] } },
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    outDir: '../src/haze/web/static',
    emptyOutDir: true,
    target: 'es2022',
    chunkSizeWarningLimit: 1500,
  },
  test: {
    environment: 'happy-dom',
    environmentOptions: { happyDOM: { url: 'http://127.0.0.1:8760/' } },
    setupFiles: ['tests/setup.ts'],
    include: ['tests/**/*.test.ts'],
  },
  // the server compares Origin with Host: keep the one the browser sent
  server: {
    fs: { allow: ['..'] }, // the guide lies with the other documents
    proxy: { '/api': { target: 'http://127.0.0.1:8760', changeOrigin: false } },
  },
});
