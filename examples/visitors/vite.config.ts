import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The desk as visitors get it; in mode `test` also a page in which Ekkon runs beside it. */
export default defineConfig(({ mode }) => ({
  root: from('.'),
  resolve: {
    alias: [
      { find: /^ekkon$/, replacement: from('../../packages/ekkon/src/index.ts') },
      {
        find: /^ekkon\/requests$/,
        replacement: from('../../packages/ekkon/src/requests/index.ts'),
      },
    ],
  },
  build: {
    outDir: mode === 'test' ? 'dist-tested' : 'dist',
    chunkSizeWarningLimit: 2_000,
    rolldownOptions: {
      // A component library says of its modules where they run; in a bundle that says nothing.
      onwarn: (warning, warn) => warning.code === 'MODULE_LEVEL_DIRECTIVE' || warn(warning),
      input: mode === 'test' ? [from('index.html'), from('tested.html')] : [from('index.html')],
    },
  },
}));
