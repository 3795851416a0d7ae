// All that has to hold before a change lands, step by step; with names, those steps alone.
import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const steps = {
  lint: ['npm', 'run', 'lint'],
  prose: ['npm', 'run', 'prose'],
  types: ['npm', 'run', 'types'],
  build: ['npm', 'run', 'build'],
  docs: ['npm', 'run', 'docs'],
  demo: ['npm', 'run', 'demo'],
  test: ['npm', 'test'],
  clients: ['npm', 'run', 'clients'],
};

const asked = process.argv.slice(2);
const unknown = asked.find((name) => !Object.hasOwn(steps, name));
if (unknown !== undefined) {
  console.error(`check: there is no step ${unknown}; these are: ${Object.keys(steps).join(', ')}`);
  process.exit(2);
}
const began = Date.now();
for (const [name, [command, ...args]] of Object.entries(steps)) {
  if (asked.length > 0 && !asked.includes(name)) continue;
  console.log(`\n── ${name}: ${[command, ...args].join(' ')}`);
  const started = Date.now();
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' });
  if (status !== 0) {
    console.error(`\ncheck: step ${name} failed. Run it alone: npm run check -- ${name}`);
    process.exit(1);
  }
  console.log(`── ${name}: ${seconds(started)} s`);
}
console.log(`\ncheck: all steps hold, ${seconds(began)} s`);

function seconds(since) {
  return Math.round((Date.now() - since) / 1_000);
}
