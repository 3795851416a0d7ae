import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

export default defineConfig({
  base: './',
  resolve: {
    alias: [
      {
        find: /^ekkon$/,
        replacement: fileURLToPath(
          new URL('../../../packages/ekkon/src/index.ts', import.meta.url),
        ),
      },
    ],
  },
  build: { outDir: '../dist', emptyOutDir: true, target: 'es2022' },
  oxc: { jsx: { runtime: 'automatic', importSource: 'preact' } },
});
