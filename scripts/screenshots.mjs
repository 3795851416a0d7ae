// Makes the pictures in docs/screenshots anew from the demo data: terminals under Xvfb, pages in the browser.
// Needs Debian's xvfb, xterm, imagemagick and chromium.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { preview } from 'vite';
import { withPage } from './browser.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const folder = join(root, 'docs/screenshots');
mkdirSync(folder, { recursive: true });

const [back, front, red] = ['#12161c', '#e6e9ee', '#ff8080'];

/** Pictures all that a command prints in a terminal 1280 wide, and as high as it takes. */
function pictureTerminal(name, command) {
  const shot = join(folder, `${name}.png`);
  const inside = `printf '\\033[?25l$ ${command}\\n\\n'; ${command.replace('ekkon', 'node packages/ekkon/dist/cli.js')}; sleep 0.3; import -window root png:- | convert - -trim +repage -bordercolor '${back}' -border 1 -trim +repage -border 14 '${shot}'`;
  const xterm = [
    'xterm',
    '-fa',
    'DejaVu Sans Mono',
    '-fs',
    '10',
    '-geometry',
    '156x110+0+0',
    '-bg',
    back,
    '-fg',
    front,
    ...['1', '9'].flatMap((colour) => ['-xrm', `xterm*color${colour}: ${red}`]),
    '-xrm',
    'xterm*internalBorder: 10',
    '-xrm',
    `xterm*cursorColor: ${back}`,
    '-e',
    'bash',
    '-c',
    inside,
  ];
  rmSync(shot, { force: true });
  execFileSync('xvfb-run', ['-a', '-s', '-screen 0 1280x2000x24', ...xterm], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, FORCE_COLOR: '1' },
  });
  if (!existsSync(shot))
    throw new Error(`${shot} was not made: install xvfb, xterm and imagemagick`);
  console.log(shot);
}

pictureTerminal('demo', 'ekkon demo');
pictureTerminal('demo-fault', 'ekkon demo --fault declination-lost');
pictureTerminal('demo-order', 'ekkon demo --fault shuts-too-early');
pictureTerminal('demo-cause', 'ekkon demo --fault stops-early');
pictureTerminal('demo-rain', 'ekkon demo --rain --fault park-not-awaited');

/** Draws a saved night as a report page, and pictures it. */
async function pictureReport(name, night, colorScheme, show, more = []) {
  const args = [
    'draw',
    `saved/${night}.jsonl`,
    '--claims',
    claims,
    '-o',
    'saved/report.html',
    ...more,
  ];
  spawnSync(process.execPath, ['packages/ekkon/dist/cli.js', ...args], { cwd: root });
  await withPage({ width: 1280, height: 800 }, async (page) => {
    await page.emulateMedia({ colorScheme });
    await page.goto(pathToFileURL(join(saved, 'report.html')).href);
    await show(page);
    await page.mouse.move(0, 0);
    const shot = join(folder, `${name}.png`);
    await page.screenshot({ path: shot });
    console.log(shot);
  });
}

const saved = join(root, 'saved');
const claims = 'examples/observatory/night.claims';
try {
  mkdirSync(saved, { recursive: true });
  const ekkon = (...args) =>
    spawnSync(process.execPath, ['packages/ekkon/dist/cli.js', ...args], { cwd: root });
  ekkon('demo', '--fault', 'declination-lost', '--save', 'saved/night.jsonl');
  pictureTerminal('check', `ekkon check saved/night.jsonl --claims ${claims}`);
  ekkon('demo', '--save', 'saved/dry.jsonl');
  pictureTerminal('weigh', `ekkon weigh saved/dry.jsonl --claims ${claims}`);
  pictureTerminal('compare', 'ekkon compare saved/dry.jsonl saved/night.jsonl');
  ekkon('draw', 'saved/night.jsonl', '--claims', claims, '-o', 'saved/night.svg');
  await pictureReport('page-night', 'dry', 'light', (page) => page.click('.lane-row >> nth=6'));
  await pictureReport('page-difference', 'night', 'dark', (page) => page.click('.finding-head'));
  await pictureReport('page-weight', 'dry', 'light', (page) => page.click('#tab-weight'));
  ekkon('demo', '--fault', 'stops-early', '--save', 'saved/early.jsonl');
  const since = ['--since', 'saved/dry.jsonl'];
  await pictureReport('page-since', 'early', 'light', (page) => page.click('#tab-since'), since);
  ekkon('demo', '--fault', 'shuts-too-early', '--save', 'saved/order.jsonl');
  await pictureReport('page-order', 'order', 'light', (page) => page.click('.finding-head'));
  await withPage({ width: 1500, height: 430 }, async (page) => {
    await page.goto(pathToFileURL(join(saved, 'night.svg')).href);
    const shot = join(folder, 'draw.png');
    await page.screenshot({ path: shot });
    console.log(shot);
  });
} finally {
  rmSync(saved, { recursive: true, force: true });
}

/** Opens a built example in the browser, and takes its picture. */
async function picturePage(name, example, show) {
  const server = await preview({
    root: join(root, 'examples', example),
    configFile: join(root, 'examples', example, 'vite.config.ts'),
    preview: { port: 0, host: '127.0.0.1' },
    logLevel: 'error',
  });
  try {
    await withPage({ width: 1280, height: 800 }, async (page) => {
      await show(page, server.resolvedUrls.local[0]);
      const shot = join(folder, `${name}.png`);
      await page.screenshot({ path: shot });
      console.log(shot);
    });
  } finally {
    await server.close();
  }
}

await picturePage('what-if', 'what-if', async (page, address) => {
  await page.goto(address);
  await page.check('[name="stops-early"]');
  await page.waitForSelector('.outcome.bad');
});

/** A visitor books two places where the test expects four: the desk, and the report of its request. */
async function pictureVisitors() {
  const { openLedger } = await import('ekkon');
  const { saveLedger } = await import('ekkon/file');
  const ledger = openLedger({ name: 'booking a night', rules: 'loose', callSites: 0 });
  const { confirm, fetch } = {
    confirm: ledger.callable('confirm'),
    fetch: ledger.callable('fetch'),
  };
  const server = await preview({
    root: join(root, 'examples/visitors'),
    configFile: join(root, 'examples/visitors/vite.config.ts'),
    preview: { port: 0, host: '127.0.0.1' },
    logLevel: 'error',
  });
  const nights = [
    { id: 7, date: '4 March', star: 'Vey', places: 3 },
    { id: 8, date: '5 March', star: 'Tamsel', places: 0 },
  ];
  const parts = ['desk', 'report'].map((name) => join(saved, `${name}.png`));
  mkdirSync(saved, { recursive: true });
  await withPage({ width: 520, height: 800 }, async (page) => {
    const hears = (route, answer) => {
      const { pathname } = new URL(route.request().url());
      const body = route.request().postData();
      const method = route.request().method();
      fetch(pathname, body === null ? { method } : { method, body });
      return route.fulfill(answer);
    };
    await page.route('**/api/nights', (route) => hears(route, { json: nights }));
    await page.route('**/api/sky', (route) => hears(route, { body: 'data: 21.4\n\n' }));
    await page.route('**/bookings', (route) =>
      hears(route, { status: 201, json: { booking: 'V-71' } }),
    );
    page.on('dialog', (dialog) => {
      confirm(dialog.message());
      return dialog.accept();
    });
    await page.goto(server.resolvedUrls.local[0]);
    await page.click('text=4 March');
    await page.click('button:has-text("Book")');
    await page.waitForSelector('text=V-71');
    await page.screenshot({ path: parts[0] });
  });
  await server.close();
  const [file, claims, drawn] = ['desk.jsonl', 'desk.claims', 'desk.html'].map(
    (name) => `saved/${name}`,
  );
  saveLedger(ledger, join(root, file));
  writeFileSync(
    join(root, claims),
    `confirm leads to request fetch("POST", "/api/nights/:id/bookings")
once request fetch("POST", "/api/nights/:id/bookings", { params: { id: "7" }, json: { visitors: 4 } })
`,
  );
  execFileSync(
    process.execPath,
    ['packages/ekkon/dist/cli.js', 'draw', file, '--claims', claims, '-o', drawn],
    { cwd: root },
  );
  await withPage({ width: 1000, height: 800 }, async (page) => {
    await page.goto(pathToFileURL(join(root, drawn)).href);
    await page.waitForSelector('.outcome.bad');
    await page.screenshot({ path: parts[1] });
  });
  const shot = join(folder, 'visitors.png');
  execFileSync('convert', [...parts, '+append', shot]);
  rmSync(saved, { recursive: true, force: true });
  console.log(shot);
}

await pictureVisitors();

execFileSync('npm', ['run', 'docs', '--silent'], { cwd: root, stdio: 'inherit' });
const site = await preview({
  root: join(root, 'site'),
  build: { outDir: '.' },
  preview: { port: 0, host: '127.0.0.1' },
  logLevel: 'error',
});
await withPage({ width: 1280, height: 800 }, async (page) => {
  await page.goto(`${site.resolvedUrls.local[0]}questions.html`);
  await page.waitForSelector('h1');
  const shot = join(folder, 'site.png');
  await page.screenshot({ path: shot });
  console.log(shot);
});
await site.close();
