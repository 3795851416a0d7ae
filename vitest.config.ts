import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { seams } from './packages/ekkon/src/vite/index.ts';

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

const documentation = 'packages/ekkon/tests/docs.test.ts';

/** With real packages, compilers and versions of Node, and as an installed copy: slow, so `npm run clients` alone runs them. */
const clients = ['{clients,tools}/**/*.test.{ts,tsx}', 'packages/ekkon/tests/installed.test.ts'];

export default defineConfig({
  resolve: {
    alias: [
      { find: /^ekkon$/, replacement: from('packages/ekkon/src/index.ts') },
      { find: /^ekkon\/vitest$/, replacement: from('packages/ekkon/src/vitest/index.ts') },
      { find: /^ekkon\/node$/, replacement: from('packages/ekkon/src/node/index.ts') },
      { find: /^ekkon\/seams$/, replacement: from('packages/ekkon/src/seams/index.ts') },
      { find: /^ekkon\/vite$/, replacement: from('packages/ekkon/src/vite/index.ts') },
      { find: /^ekkon\/requests$/, replacement: from('packages/ekkon/src/requests/index.ts') },
      { find: /^ekkon\/server$/, replacement: from('packages/ekkon/src/requests/server.ts') },
      { find: /^ekkon\/weigh$/, replacement: from('packages/ekkon/src/weigh.ts') },
      { find: /^ekkon\/claims$/, replacement: from('packages/ekkon/src/claims.ts') },
      { find: /^ekkon\/file$/, replacement: from('packages/ekkon/src/file/index.ts') },
    ],
  },
  test: {
    projects: [
      {
        extends: true,
        test: {
          name: 'library',
          include: ['{packages,bench}/**/*.test.{ts,tsx}'],
          exclude: ['**/node_modules/**', documentation, ...clients],
          // Ekkon keeps no state between tests, so its files can share their modules.
          isolate: false,
        },
      },
      { extends: true, test: { name: 'clients', include: clients } },
      {
        // Its examples load modules once more.
        extends: true,
        plugins: [seams({ of: ['date-fns'] })],
        test: { name: 'documentation', include: [documentation] },
      },
      {
        // As a user has it: the example's own modules, and a package that they import.
        extends: true,
        plugins: [seams({ of: ['date-fns'] })],
        test: { name: 'examples', include: ['examples/**/*.test.{ts,tsx}'] },
      },
    ],
    // The command line and an installed copy are tested as they are built.
    globalSetup: from('scripts/build-for-tests.mjs'),
    maxWorkers: 2,
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
