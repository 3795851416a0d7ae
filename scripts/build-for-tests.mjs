import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export function setup() {
  execFileSync(
    process.execPath,
    [fileURLToPath(new URL('ready.mjs', import.meta.url)), '--built'],
    { stdio: 'inherit' },
  );
}
