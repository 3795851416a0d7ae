import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse as parseCsv } from 'csv-parse/sync';
import { call, type Entry, gives, never, once, openLedger, plan, stalls, throws } from 'ekkon';
import fc from 'fast-check';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import papaparse from 'papaparse';
import { Parser as TapParser } from 'tap-parser';
import { parse as readResults } from 'test-results-parser';
import { afterAll, expect, test } from 'vitest';
import { converters } from '../../packages/ekkon/src/offline/convert.ts';
import { type JudgedLedger, junitText, tapText } from '../../packages/ekkon/src/report/judged.ts';
import { lanesSvg } from '../../packages/ekkon/src/report/svg.ts';
import { anyValue } from '../../packages/ekkon/tests/any-value.ts';
import { failure } from '../../packages/ekkon/tests/failure.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-formats-'));
afterAll(() => rmSync(folder, { recursive: true }));

const name = fc.oneof(fc.string({ unit: 'binary', minLength: 1 }), fc.constantFrom('a,"b"\r\n', ']]>', '# TODO x', '=1+1', '\u202e', '<b>&amp;'));

/** A record with every kind of entry and any values, and what claims find on it. */
async function judged(ledgerName: string, doubleName: string, values: readonly unknown[]) {
  const ledger = openLedger({ name: ledgerName, rules: 'loose', callSites: 0 });
  const f = ledger.callable<(...args: readonly unknown[]) => unknown>(doubleName);
  const { dome } = ledger.standIns<{ dome: { open(): Promise<void>; jam(): void; angle: unknown } }>();
  const Cover = ledger.constructible<new (at: unknown) => object>('Cover');
  plan(call(f), gives(values[0]));
  plan(call(dome.open), stalls());
  plan(call(dome.jam), throws(values[1]));
  f(...values);
  void dome.open();
  try {
    dome.jam();
  } catch {
    // It throws what was planned.
  }
  dome.angle = values[0];
  new Cover(values[1]);
  const source = (emit: (item: unknown) => void) => {
    emit(values[0]);
    return () => {};
  };
  ledger.follow(source, 'rain');
  const claims = [once(call(f)), never(call(f)), once(call(f, ['another value']))];
  return { entries: ledger.entries(), judged: { file: doubleName, claims, verdict: failure(...claims).verdict } satisfies JudgedLedger };
}

const given = fc.tuple(name, name, fc.tuple(anyValue(), anyValue()));
const runs = { numRuns: Number(process.env['EKKON_RUNS'] ?? 60) };

test('two CSV readers read what was recorded, the same', async () => {
  await fc.assert(
    fc.asyncProperty(given, async (parts) => {
      const { entries } = await judged(...parts);
      const text = inForm('csv', entries);
      const rows: string[][] = parseCsv(text);
      expect(papaparse.parse(text, { skipEmptyLines: true })).toMatchObject({ data: rows, errors: [] });
      expect(rows.slice(1).map(([id, , , , , double]) => [id, double])).toEqual(entries.map((entry) => [String(entry.id), spread(entry.double)]));
    }),
    runs,
  );
});

/** A text as a spreadsheet gets it: what it would run is text. */
function spread(text: string): string {
  return /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
}

test('trace events and spans are JSON with an entry each', async () => {
  await fc.assert(
    fc.asyncProperty(given, async (parts) => {
      const { entries } = await judged(...parts);
      const { traceEvents } = JSON.parse(inForm('trace', entries));
      expect(traceEvents.filter(({ ph }: { ph: string }) => ph === 'X')).toHaveLength(entries.length);
      expect(JSON.parse(inForm('otlp', entries)).resourceSpans[0].scopeSpans[0].spans).toHaveLength(entries.length);
    }),
    runs,
  );
});

function inForm(form: keyof typeof converters, entries: readonly Entry[]): string {
  const converter = converters[form]('night');
  return converter.head + entries.map((entry) => converter.entry(entry)).join('') + converter.foot();
}

test('readers of JUnit, of XML and of TAP find each claim, and those that fail', async () => {
  await fc.assert(
    fc.asyncProperty(given, async (parts) => {
      const { entries, judged: found } = await judged(...parts);
      const junit = junitText([found], [{ file: parts[1], error: parts[0] }]);
      for (const xml of [junit, lanesSvg(parts[0], entries)]) expect(XMLValidator.validate(xml)).toBe(true);
      const { testsuites } = new XMLParser({ ignoreAttributes: false }).parse(junit);
      expect(testsuites['@_tests']).toBe('4');
      writeFileSync(join(folder, 'junit.xml'), junit);
      const results = readResults({ type: 'junit', files: [join(folder, 'junit.xml')] });
      expect(results).toMatchObject({ total: 4, failed: 2, errors: 1, passed: 1 });
      const points = TapParser.parse(tapText([found], [{ file: parts[1], error: parts[0] }]));
      const told = points.flatMap(([is, point]) => (is === 'assert' ? [(point as { ok: boolean }).ok] : []));
      expect([told, points.filter(([is]) => is === 'extra' || is === 'bailout')]).toEqual([[true, false, false, false], []]);
      const complete = points.find(([is]) => is === 'complete');
      expect(complete?.[1]).toMatchObject({ count: 4, pass: 1, fail: 3, plan: { end: 4 } });
    }),
    runs,
  );
});
