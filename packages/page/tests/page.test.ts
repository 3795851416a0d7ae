import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { call, fulfils, openLedger, plan, stalls } from 'ekkon';
import type { Page } from 'playwright-core';
import { afterAll, describe, expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';
import { reportPage } from '../../ekkon/src/file/report-page.ts';
import type { PageRecord } from '../../ekkon/src/report/page-data.ts';
import { toldVerdict } from '../../ekkon/src/report/told.ts';
import { eachCode, inStretch } from '../../ekkon/tests/each-code.ts';
import { nightOf, recordOf } from './nights.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-page-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** Opens a report page from disk, and gives back what went wrong in it beside what `use` gives. */
async function opened<T>(
  records: readonly PageRecord[],
  use: (page: Page, address: string) => Promise<T>,
  { width = 1280, fragment = '' } = {},
): Promise<T> {
  const path = join(folder, 'report.html');
  writeFileSync(path, reportPage({ records }));
  const address = pathToFileURL(path).href;
  return await withPage({ width, height: 800 }, async (page) => {
    const problems: string[] = [];
    page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
    page.on('pageerror', (error) => problems.push(String(error)));
    page.on('dialog', (dialog) => {
      problems.push(`a dialog: ${dialog.message()}`);
      void dialog.dismiss();
    });
    page.on('request', (request) => request.url().startsWith('file:') || request.url().startsWith('data:') || problems.push(request.url()));
    await page.goto(`${address}${fragment}`);
    const given = await use(page, address);
    expect(problems).toEqual([]);
    return given;
  });
}

const squeezed = (text: string | null) => (text ?? '').replace(/\s+/g, '');
const chosenRow = async (page: Page) => await page.getAttribute('.lane-row[aria-selected="true"]', 'aria-label');

/** What a well-known checker finds wrong with the page as it is. */
async function violations(page: Page): Promise<readonly string[]> {
  await page.evaluate(axe);
  return await page.evaluate(async () => {
    const { axe: checker } = globalThis as unknown as { axe: { run(): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> } };
    const { violations: found } = await checker.run();
    return found.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
  });
}

describe.runIf(hasBrowserFor('the report page'))('the report page', () => {
  test('says of every code what the text report says', async () => {
    const cases = await Promise.all(
      Object.entries({ ...eachCode, inStretch }).map(async ([code, make]) => {
        const { ledger, verdict } = await make();
        return { ...recordOf(ledger), file: code, verdict: toldVerdict(verdict) };
      }),
    );
    await opened(cases, async (page) => {
      for (const [at, { file, verdict }] of cases.entries()) {
        await page.selectOption('#record', String(at));
        const said = squeezed(await page.locator('.verdict').innerText());
        for (const { claim, message, blocks } of verdict.findings) {
          const lines = blocks.flatMap((block) => (block.is === 'line' ? [block.line] : block.differences.flatMap(({ says }) => says)));
          const texts = lines.map((line) => line.map(({ text }) => text).join(''));
          for (const text of [claim, ...texts]) expect(said, file).toContain(squeezed(text));
          if (texts.length === 0) expect(said, file).toContain(squeezed(message));
        }
        expect(said, file).toContain(squeezed(verdict.heading));
      }
    });
  });

  test('a finding leads to the event at fault, what it had to come before, and all that was recorded of it', async () => {
    await opened([await nightOf('shuts-too-early')], async (page) => {
      await page.click('.finding-head');
      expect(await chosenRow(page)).toBe('#13 25 close() ◂ too early, dome');
      expect(await page.locator('.drawing path.arrow').count()).toBe(1);
      expect(await page.locator('.note').allInnerTexts()).toEqual(
        ['◂ too early', '◂ had to come first'].map((text) => expect.stringContaining(text)),
      );
      await page.click('.entry-panel >> text=arguments');
      await page.click('text=#14 >> nth=0');
      expect(await page.innerText('.entry-panel h2')).toBe('#14 mount.park()');
      await page.click('[aria-label="Close the entry"]');
      expect(await page.locator('.entry-panel').count()).toBe(0);
    });
  });

  test('a stretch is shaded, and calls under way are drawn from beginning to end, or open', async () => {
    const { ledger, verdict } = await inStretch();
    await opened([{ ...recordOf(ledger), verdict: toldVerdict(verdict) }], async (page) => {
      await page.click('.finding-head');
      expect(await page.locator('.drawing .stretch').count()).toBe(1);
    });
    const night = openLedger({ name: 'a night that goes on', rules: 'loose' });
    const { mount, dome } = night.standIns<{ mount: { park(): Promise<void> }; dome: { close(): void } }>();
    plan(call(mount.park), fulfils(undefined), stalls());
    const parked = mount.park();
    dome.close();
    await parked;
    void mount.park();
    await opened([recordOf(night)], async (page) => {
      expect(await page.locator('.drawing .span:not(.open)').count()).toBe(1);
      expect(await page.locator('.drawing .span.open').count()).toBe(1);
    });
  });

  test('keys, filter, zoom and collapsing', async () => {
    await opened([await nightOf(undefined)], async (page) => {
      await page.focus('.lanes-body');
      for (const [key, row] of [
        ['ArrowDown', '#1 '],
        ['ArrowDown', '#2 '],
        ['End', '#15 '],
        ['ArrowUp', '#14 '],
        ['PageUp', '#1 '],
        ['Home', '#1 '],
      ] as const) {
        await page.keyboard.press(key);
        expect(await chosenRow(page), key).toMatch(row);
      }
      await page.fill('[type=search]', 'EXPOSE');
      await page.waitForFunction(() => document.querySelectorAll('.lane-row').length === 2);
      expect(await page.innerText('.tools')).toContain('2 of 15');
      await page.fill('[type=search]', '');
      const height = async () => (await page.locator('.lane-row').first().boundingBox())?.height ?? 0;
      const before = await height();
      await page.click('[aria-label="Larger rows"]');
      expect(await height()).toBeGreaterThan(before);
      await page.click('.lane-name >> text=camera');
      expect(await page.getAttribute('.lane-name >> nth=3', 'aria-expanded')).toBe('false');
    });
  });

  test('each control on each tab is reached by the Tab key, and shows that it is', async () => {
    await opened([await nightOf('declination-lost')], async (page) => {
      for (const name of await page.getByRole('tab').allTextContents()) {
        await page.getByRole('tab', { name }).click();
        const controls = await page.evaluate(() => {
          const all = [...document.querySelectorAll<HTMLElement>('button, a[href], input, textarea, select, summary, [tabindex="0"]')];
          const shown = all.filter((each) => each.tabIndex >= 0 && !each.matches(':disabled') && each.checkVisibility());
          for (const [at, each] of shown.entries()) each.dataset['at'] = String(at);
          (document.activeElement as HTMLElement | null)?.blur();
          return shown.length;
        });
        const reached = new Set<string>();
        for (let step = 0; step < controls + 2; step++) {
          await page.keyboard.press('Tab');
          const found = await page.evaluate(() => {
            const { activeElement } = document;
            const { outlineStyle, boxShadow } = getComputedStyle(activeElement as Element);
            const isSeen = outlineStyle !== 'none' || boxShadow !== 'none';
            return [(activeElement as HTMLElement).dataset['at'], isSeen ? '' : `${activeElement?.outerHTML.slice(0, 80)} shows no focus`] as const;
          });
          if (found[0] !== undefined) expect([name, found[1]]).toEqual([name, '']);
          reached.add(found[0] ?? '');
        }
        reached.delete('');
        expect([name, reached.size]).toEqual([name, controls]);
      }
    });
  });

  test('claims are judged as they are written, and a link keeps them and the place', async () => {
    const records = [await nightOf('opens-twice'), await nightOf(undefined)];
    const link = await opened(records, async (page) => {
      await page.selectOption('#record', '1');
      expect(await page.innerText('.heading')).toBe('all 15 claims hold');
      await page.click('#tab-claims');
      await page.fill('#claims', 'once dome.open\nonce dome.shutt');
      await page.waitForSelector('text=dome.shutt was never called');
      await page.fill('#claims', 'once dome.open(');
      expect(await page.innerText('#claims-told')).toMatch(/line 1, column 16: [\s\S]*\^/);
      await page.fill('#claims', 'once camera.expose({ seconds: 60, filter: "clear", at: { ra: 101.3, dec: 0 } })');
      await page.click('.finding-head');
      return page.url();
    });
    expect(link).toMatch(/#record=2&entry=11&claims=once/);
    await opened(
      records,
      async (page) => {
        expect(await chosenRow(page)).toMatch(/^#11 /);
        expect(await page.innerText('.heading')).toBe('the claim does not hold');
        await page.click('#tab-claims');
        expect(await page.inputValue('#claims')).toContain('once camera.expose({ seconds: 60');
        await page.click('text=The claims it came with');
        expect(await page.innerText('.heading')).toBe('all 15 claims hold');
      },
      { fragment: new URL(link).hash },
    );
  });

  test('the weight lists what nobody would notice, and a claim that is added is noticed', async () => {
    await opened([await nightOf(undefined)], async (page) => {
      await page.click('#tab-weight');
      const before = await page.innerText('.weight .heading');
      await page.click('text=Add this claim >> nth=0');
      await page.waitForFunction((was) => document.querySelector('.weight .heading')?.textContent !== was, before);
      const percents = [before, await page.innerText('.weight .heading')].map((text) => Number(/\((\d+) %\)/.exec(text)?.[1]));
      expect(percents[1]).toBeGreaterThan(percents[0] ?? 100);
    });
  });

  test('a long record is drawn only where it is in sight, and its end is reached by a key', async () => {
    const lines = ['{"ekkon":"ledger","version":1,"name":"a long night","opened":0}', '{"double":"camera","is":"stand-in"}'];
    for (let id = 1; id <= 100_000; id++) {
      lines.push(`{"tick":${id * 2 - 1},"begins":${id},"label":"camera.expose","of":["camera","expose"],"kind":"call","at":0,"args":[${id}]}`);
      lines.push(`{"tick":${id * 2},"ends":${id},"at":0,"state":"returned","value":null}`);
    }
    await opened([{ file: 'long', text: lines.join('\n'), claims: '', rules: 'usual' }], async (page) => {
      await page.focus('.lanes-body');
      await page.keyboard.press('End');
      await page.waitForSelector('.lane-row >> text=expose(100000)');
      expect(await page.locator('.lane-row').count()).toBeLessThan(100);
    });
  });

  test('what was recorded is text, whatever it contains', async () => {
    const bad = '</script><img src=x onerror=alert(1)><b>"\'&\u202e\u0007';
    const ledger = openLedger({ name: bad, rules: 'loose' });
    const double = ledger.callable<(value: unknown) => void>(bad);
    double({ [bad]: bad });
    ledger.mark(bad);
    await opened([{ ...recordOf(ledger), file: bad }], async (page) => {
      await page.click('.lane-row >> nth=0');
      await page.click('.entry-panel summary');
      expect(await page.innerText('h1')).toContain('</script><img');
      expect(await page.locator('img, b').count()).toBe(0);
      const raw = await page.evaluate(() =>
        [...document.querySelectorAll('#page *')]
          .filter(({ textContent, children }) => children.length === 0 && textContent?.includes('\u0007'))
          .map(({ outerHTML }) => outerHTML),
      );
      expect(raw).toEqual([]);
    });
  });

  test.each([
    ['light', 1280],
    ['dark', 1280],
    ['light', 390],
  ] as const)('is accessible in the %s at %d pixels', async (colorScheme, width) => {
    await opened(
      [await nightOf('opens-twice'), await nightOf(undefined)],
      async (page) => {
        await page.emulateMedia({ colorScheme });
        await page.click('.finding-head >> nth=0');
        expect(await violations(page)).toEqual([]);
        for (const tab of ['#tab-claims', '#tab-weight']) {
          await page.click(tab);
          expect(await violations(page), tab).toEqual([]);
        }
        expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
      },
      { width },
    );
  });

  test('prints without what is only for a screen', async () => {
    await opened([await nightOf('opens-twice')], async (page) => {
      await page.emulateMedia({ media: 'print' });
      expect(await page.locator('.tools').isVisible()).toBe(false);
      expect(await page.locator('.lane-row').count()).toBe(16);
      expect(await page.locator('.finding').first().isVisible()).toBe(true);
    });
  });

  test('says what is wrong with a record that cannot be read, and with a page without one', async () => {
    await opened([{ file: 'x', text: 'no ledger', claims: '', rules: 'usual' }], async (page) => {
      expect(await page.innerText('[role=alert]')).toMatch(/^This record cannot be shown: this is not a ledger file/);
    });
    await opened([], async (page) => {
      expect(await page.innerText('main')).toContain('There is no record on this page');
    });
  });
});
