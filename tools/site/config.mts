import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitepress';

const pages = (names: readonly (readonly [text: string, name: string])[]) =>
  names.map(([text, name]) => ({ text, link: `/${name}` }));

/** The pages of docs as a site: search, light and dark, the API reference and the what-if example inside. */
// biome-ignore lint/style/noDefaultExport: the generator reads it.
export default defineConfig({
  title: 'Ekkon',
  description: 'Records every call a test double receives, and says which one was wrong.',
  srcDir: fileURLToPath(new URL('../../docs', import.meta.url)),
  outDir: fileURLToPath(new URL('../../site', import.meta.url)),
  cacheDir: fileURLToPath(new URL('../node_modules/.site', import.meta.url)),
  rewrites: { 'README.md': 'index.md' },
  cleanUrls: false,
  // What lies outside of docs is read in the repository.
  ignoreDeadLinks: [/^(\.\/)?\.\.\/(?!reference)/],
  vite: { publicDir: fileURLToPath(new URL('./public', import.meta.url)) },
  themeConfig: {
    search: { provider: 'local' },
    outline: 'deep',
    nav: [
      { text: 'First test', link: '/first-test' },
      { text: 'Questions', link: '/questions' },
      { text: 'What if', link: '/what-if' },
      { text: 'API', link: '/reference/index.html', target: '_self' },
    ],
    sidebar: [
      {
        text: 'Learn',
        items: pages([
          ['Overview', 'index'],
          ['Your first test', 'first-test'],
          ['Doubles', 'doubles'],
          ['Values and matchers', 'values'],
          ['Plans', 'plans'],
          ['Counts', 'counts'],
          ['Order', 'order'],
          ['Waiting and streams', 'waiting'],
          ['Rules', 'rules'],
          ['Modules', 'modules'],
          ['Requests', 'requests'],
          ['Runners', 'runners'],
        ]),
      },
      {
        text: 'Read failures',
        items: pages([
          ['Since it last passed', 'last-pass'],
          ['The report page', 'page'],
          ['What if: try it', 'what-if'],
          ['Diagnosis', 'diagnosis'],
          ['Weighing claims', 'weigh'],
          ['Findings', 'findings'],
        ]),
      },
      {
        text: 'Look up',
        items: pages([
          ['Questions', 'questions'],
          ['Recipes', 'recipes'],
          ['Files and the command', 'files'],
          ['Claims as text', 'claims'],
          ['The file format', 'ledger-file'],
          ['Scale and traces', 'scale'],
        ]),
      },
      {
        text: 'Work on Ekkon',
        items: pages([
          ['Architecture', 'architecture'],
          ['Decisions', 'decisions'],
        ]),
      },
    ],
  },
});
