import { fileURLToPath } from 'node:url';

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The base of the page: components run on Preact, and Ekkon comes from its sources. */
export const aliases = [
  { find: /^observatory$/, replacement: from('../../examples/observatory/src/index.ts') },
  { find: /^react-dom\/client$/, replacement: 'preact/compat/client' },
  { find: /^react-dom$/, replacement: 'preact/compat' },
  { find: /^react$/, replacement: 'preact/compat' },
  { find: /^react\/jsx-runtime$/, replacement: 'preact/jsx-runtime' },
  { find: /^react\/jsx-dev-runtime$/, replacement: 'preact/jsx-dev-runtime' },
  { find: /^#core\//, replacement: from('../ekkon/src/') },
  {
    find: /^urlpattern-polyfill\/urlpattern$/,
    replacement: from('./src/platform-url-pattern.ts'),
  },
  { find: /^ekkon$/, replacement: from('../ekkon/src/index.ts') },
];
