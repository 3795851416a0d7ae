import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { gzipSync } from 'node:zlib';
import { browserPath, withPage } from '../../scripts/browser.mjs';
import { printRow } from './measure.mjs';

const entries = 100_000;
const opens = 5;
const framesScrolled = 200;
/** Pixels from frame to frame: 7,200 a second, as fast as a hand flicks a wheel. */
const pixelsScrolled = 120;

/** The report page: its size, the time to its first lanes, and its frames while a long record scrolls. */
export async function benchPage() {
  const page = readFileSync(
    fileURLToPath(new URL('page/index.html', import.meta.resolve('ekkon'))),
    'utf8',
  );
  const kilobytes = gzipSync(page).length / 1_000;
  printRow(
    'report page without data, gzip / 150 kB',
    kilobytes / 150,
    '1',
    `${kilobytes.toFixed(0)} kB`,
  );
  if (browserPath === undefined)
    return console.log('no browser is installed: the page is not opened');
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-page-'));
  try {
    const [long, short] = [
      ['long', entries],
      ['short', 10],
    ].map(([name, count]) => {
      const path = join(folder, `${name}.html`);
      const data = { records: [{ file: name, text: recordOf(count), claims: '', rules: 'usual' }] };
      const json = JSON.stringify(data).replaceAll('<', '\\u003c');
      writeFileSync(
        path,
        page.replace(/(id="records">)null/, (_, opening) => `${opening}${json}`),
      );
      return pathToFileURL(path).href;
    });
    const times = { long: [], short: [] };
    let frames = { scrolling: 0, still: 0 };
    await withPage({ width: 1280, height: 800 }, async (browser) => {
      for (let round = 0; round < opens; round++) {
        times.short.push(await timeToLanes(browser, short));
        times.long.push(await timeToLanes(browser, long));
      }
      frames = await browser.evaluate(measureFrames, [framesScrolled, pixelsScrolled]);
    });
    const [ours, other] = [median(times.long), median(times.short)];
    printRow(
      `first lanes of ${entries.toLocaleString('en')} entries / of ten`,
      ours / other,
      '',
      `${ours.toFixed(0)} / ${other.toFixed(0)} ms`,
    );
    printRow(
      'a frame while they scroll / a frame in which nothing moves',
      frames.scrolling / frames.still,
      '1.5',
      `${frames.scrolling.toFixed(1)} / ${frames.still.toFixed(1)} ms`,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function timeToLanes(page, address) {
  await page.goto(address, { waitUntil: 'commit' });
  await page.waitForSelector('.lane-row');
  return await page.evaluate(
    () => new Promise((done) => requestAnimationFrame(() => done(performance.now()))),
  );
}

/** Medians of the milliseconds between frames, in the page. */
async function measureFrames([count, pixelsScrolled]) {
  const scroller = document.querySelector('.lanes-scroll');
  const frames = async (move) => {
    const times = [];
    let last = performance.now();
    for (let at = 0; at < count; at++) {
      move();
      await new Promise(requestAnimationFrame);
      const now = performance.now();
      times.push(now - last);
      last = now;
    }
    return times.sort((one, other) => one - other)[count / 2];
  };
  const still = await frames(() => {});
  const scrolling = await frames(() => {
    scroller.scrollTop += pixelsScrolled;
  });
  return { scrolling, still };
}

function recordOf(count) {
  const lines = ['{"ekkon":"ledger","version":1,"name":"a long night","opened":0}'];
  const labels = ['camera.expose', 'mount.slewTo', 'archive.store', 'weather.rain'];
  for (let id = 1; id <= count; id++) {
    const label = labels[id % labels.length];
    const args = [{ seconds: id % 60, filter: id % 2 === 0 ? 'red' : 'blue' }];
    const of = label.split('.');
    lines.push(
      JSON.stringify({ tick: id * 2 - 1, begins: id, label, of, kind: 'call', at: id, args }),
    );
    lines.push(JSON.stringify({ tick: id * 2, ends: id, at: id, state: 'returned', value: null }));
  }
  return lines.join('\n');
}

function median(numbers) {
  return (
    [...numbers].sort((one, other) => one - other)[Math.floor(numbers.length / 2)] ?? Number.NaN
  );
}
