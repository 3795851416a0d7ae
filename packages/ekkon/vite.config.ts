import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { asciiOnly } from './build-ascii.ts';
import { chunkGroups, loadLate, minified } from './build-late.ts';
import manifest from './package.json' with { type: 'json' };

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  plugins: [loadLate(), asciiOnly()],
  resolve: {
    alias: [{ find: /^ekkon$/, replacement: from('src/index.ts') }],
  },
  build: {
    target: 'es2022',
    sourcemap: true,
    minify: false,
    lib: {
      entry: {
        index: from('src/index.ts'),
        file: from('src/file/index.ts'),
        claims: from('src/claims.ts'),
        weigh: from('src/weigh.ts'),
        requests: from('src/requests/index.ts'),
        server: from('src/requests/server.ts'),
        vitest: from('src/vitest/index.ts'),
        node: from('src/node/index.ts'),
        seams: from('src/seams/index.ts'),
        'seams-thread': from('src/seams/hooks-thread.ts'),
        'seams-browser': from('src/seams/browser.ts'),
        vite: from('src/vite/index.ts'),
        cli: from('src/cli/main.ts'),
      },
      formats: ['es'],
    },
    rolldownOptions: {
      output: {
        comments: false,
        minify: minified,
        codeSplitting: { groups: chunkGroups },
        // Each entry for Node imports one of the core's by its name.
        minifyInternalExports: false,
      },
      external: [/^node:/, /^vitest(?:\/|$)/, 'vite', ...Object.keys(manifest.dependencies)],
    },
  },
});
