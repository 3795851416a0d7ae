// Makes the pictures in docs/screenshots anew from the demo data: terminals under Xvfb, pages in the browser.
// Needs Debian's xvfb, xterm, imagemagick and chromium.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { preview } from 'vite';
import { withPage } from './browser.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const folder = join(root, 'docs/screenshots');
mkdirSync(folder, { recursive: true });

/** Pictures what a command prints in a terminal of about 1280 by 800. */
function pictureTerminal(name, command) {
  const shot = join(folder, `${name}.png`);
  const inside = `printf '\\033[?25l$ ${command}\\n\\n'; ${command.replace('ekkon', 'node packages/ekkon/dist/cli.js')}; sleep 0.3; import -window root '${shot}'`;
  const xterm = [
    'xterm',
    '-fa',
    'DejaVu Sans Mono',
    '-fs',
    '10',
    '-geometry',
    '156x50+0+0',
    '-bg',
    '#12161c',
    '-fg',
    '#e6e9ee',
    '-xrm',
    'xterm*internalBorder: 10',
    '-xrm',
    'xterm*cursorColor: #12161c',
    '-e',
    'bash',
    '-c',
    inside,
  ];
  execFileSync('xvfb-run', ['-a', '-s', '-screen 0 1280x800x24', ...xterm], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, FORCE_COLOR: '1' },
  });
  console.log(shot);
}

pictureTerminal('demo', 'ekkon demo');
pictureTerminal('demo-fault', 'ekkon demo --fault declination-lost');
pictureTerminal('demo-order', 'ekkon demo --fault shuts-too-early');
pictureTerminal('demo-rain', 'ekkon demo --rain --fault park-not-awaited');

const saved = join(root, 'saved');
const claims = 'examples/observatory/night.claims';
try {
  mkdirSync(saved, { recursive: true });
  const ekkon = (...args) =>
    spawnSync(process.execPath, ['packages/ekkon/dist/cli.js', ...args], { cwd: root });
  ekkon('demo', '--fault', 'declination-lost', '--save', 'saved/night.jsonl');
  pictureTerminal('check', `ekkon check saved/night.jsonl --claims ${claims}`);
  ekkon('draw', 'saved/night.jsonl', '--claims', claims, '-o', 'saved/night.svg');
  await withPage({ width: 1500, height: 430 }, async (page) => {
    await page.goto(pathToFileURL(join(saved, 'night.svg')).href);
    const shot = join(folder, 'draw.png');
    await page.screenshot({ path: shot });
    console.log(shot);
  });
} finally {
  rmSync(saved, { recursive: true, force: true });
}

const server = await preview({
  root: join(root, 'examples/observatory/page'),
  configFile: join(root, 'examples/observatory/page/vite.config.ts'),
  preview: { port: 0, host: '127.0.0.1' },
  logLevel: 'error',
});
try {
  await withPage({ width: 1280, height: 800 }, async (page) => {
    await page.goto(server.resolvedUrls.local[0]);
    await page.selectOption('#fault', 'declination-lost');
    await page.click('button');
    await page.waitForSelector('#report', { timeout: 30_000 });
    const shot = join(folder, 'observatory-page.png');
    await page.screenshot({ path: shot });
    console.log(shot);
  });
} finally {
  await server.close();
}
