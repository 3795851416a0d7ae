// Makes a checkout ready: installs missing or outdated packages and, with --built, builds the library
// if its sources are newer than the build.
import { execSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const run = (command) => execSync(command, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
const timeOf = (path) => (existsSync(join(root, path)) ? statSync(join(root, path)).mtimeMs : 0);

/** The newest file below a folder, in milliseconds. */
function newest(folder) {
  const times = readdirSync(join(root, folder), { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile())
    .map((entry) => statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs);
  return Math.max(0, ...times);
}

const installed = timeOf('node_modules/.package-lock.json');
if (installed < timeOf('package-lock.json') || !existsSync(join(root, 'node_modules/vite'))) {
  console.log('installing what is missing …');
  run('npm ci --no-audit --no-fund --loglevel=error');
}

if (process.argv.includes('--built')) {
  const sources = Math.max(
    newest('packages/ekkon/src'),
    newest('packages/page/src'),
    newest('examples/observatory/src'),
    timeOf('packages/ekkon/package.json'),
    timeOf('packages/ekkon/vite.config.ts'),
    timeOf('packages/page/vite.config.ts'),
    timeOf('packages/page/index.html'),
  );
  if (timeOf('packages/ekkon/dist/cli.js') < sources) {
    console.log('building the library …');
    run('npm run build --silent --loglevel=error --workspace ekkon');
  }
}
