// Builds the site of the documentation into site/: the pages of docs, the API reference, and the what-if example.
import { cpSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vitepress';

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, '../..');
const made = join(here, 'public');
// The generator looks for its settings in a folder of this name below the pages' root.
const settings = join(here, '.vitepress');

rmSync(made, { recursive: true, force: true });
mkdirSync(made, { recursive: true });
cpSync(join(root, 'reference'), join(made, 'reference'), { recursive: true });
cpSync(join(root, 'examples/what-if/dist'), join(made, 'what-if-page'), { recursive: true });
rmSync(settings, { recursive: true, force: true });
mkdirSync(settings);
writeFileSync(join(settings, 'config.mts'), "export { default } from '../config.mts';\n");
try {
  await build(here);
} finally {
  rmSync(settings, { recursive: true, force: true });
}
console.log(`the site is in ${join(root, 'site')}`);
