import { fileURLToPath } from 'node:url';

import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [vue()],
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
  server: { proxy: { '/api': { target: 'http://127.0.0.1:8760', changeOrigin: false } } },
});
