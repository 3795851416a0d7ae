#!/usr/bin/env node
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const command = new URL('../dist/cli.js', import.meta.url);
const ready = new URL('../../../scripts/ready.mjs', import.meta.url);

// In a checkout nothing may have been built yet.
if (!existsSync(command) && existsSync(ready)) {
  spawnSync(process.execPath, [fileURLToPath(ready), '--built'], { stdio: ['ignore', 2, 2] });
}
await import(command.href);
