import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type ClaimError, call, check, gives, nothingElse, once, openLedger, plan, summary } from 'ekkon';
import { saveLedger } from 'ekkon/file';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { ekkon } from './command.ts';

/** Signs that a terminal would obey: a colour, a title, a line back, a turned line, and one of eight bits. */
const evil = '\u001b[31m\u0007\r\u202e\u009b5m';
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must not be there.
const raw = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]/;
/** The colours that the command line itself prints. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: a colour begins with one.
const colours = /\u001b\[(?:1|2|22|31|32|33|39)m/g;

const named = <T extends object>(value: T, name: string): T => Object.defineProperty(value, 'name', { value: name });

/** A ledger in which everything that has a name has an evil one. */
function evilLedger() {
  const ledger = openLedger({ name: `night ${evil}`, rules: 'loose' });
  const dome = ledger.standIn<Record<string, (...args: unknown[]) => unknown>>(`dome ${evil}`);
  const open = dome[`open ${evil}`] as (...args: unknown[]) => unknown;
  const values = (at: number) => [
    new (named(class extends Map<unknown, unknown> {}, `Stars ${evil}`))([[evil, at]]),
    new (named(class extends Error {}, `Lost ${evil}`))(evil),
    new (named(class {}, `Frame ${evil}`))(),
    named(() => at, `turn ${evil}`),
    new RegExp(`\u202e${at}`),
    { [evil]: evil, [Symbol(evil)]: at },
    Symbol.for(evil),
  ];
  plan(call(open, [1]), gives(evil));
  open(...values(1));
  open(1);
  ledger.mark(evil);
  return { ledger, open, claim: () => once(call(open, values(2))) };
}

const folder = mkdtempSync(join(tmpdir(), 'ekkon-hostile-'));
afterAll(() => rmSync(folder, { recursive: true }));
const at = (name: string) => join(folder, name);
const [file, other, claims, holding] = [at('evil.jsonl'), at('other.jsonl'), at('evil.claims'), at('holding.claims')];

beforeAll(() => {
  const { ledger } = evilLedger();
  saveLedger(ledger, file);
  // As somebody else may have written it, with labels and sites that nobody has looked at.
  const lines = readFileSync(file, 'utf8').replace(/"file":"[^"]*"/g, () => `"file":${JSON.stringify(`/night/${evil}.ts`)}`);
  writeFileSync(file, lines.replaceAll('\\\\u001b', '\\u001b').replaceAll('\\\\u202e', '\\u202e').replaceAll('\\\\u009b', '\\u009b'));
  const quiet = evilLedger();
  quiet.open('more');
  saveLedger(quiet.ledger, other);
  const member = `${JSON.stringify(`dome ${evil}`)}.${JSON.stringify(`open ${evil}`)}`;
  writeFileSync(claims, `never ${member}\nnothing else\n`);
  writeFileSync(holding, `times 1..* ${member}\n`);
});

const commands: readonly (readonly string[])[] = [
  ['show', file],
  ['show', file, '--json'],
  ['compare', file, other],
  ...['text', 'json', 'junit', 'tap'].map((format) => ['check', file, '--claims', claims, '--format', format]),
  ['weigh', file, '--claims', holding],
  ['weigh', file, '--claims', holding, '--format', 'json'],
  ...['txt', 'svg', 'mmd', 'html'].map((format) => ['draw', file, '-o', '-', '--format', format]),
  ...['csv', 'otlp', 'trace'].map((to) => ['convert', file, '--to', to]),
];

test.each(commands)('no control character of a record leaves the command: %s %s %s %s %s %s', (...args) => {
  const { code, out, err } = ekkon(...args.filter((each) => each !== undefined));
  expect([code === 0 || code === 1, code === 2 ? err : '']).toEqual([true, '']);
  const page = /<script type="application\/json" id="records">(.*?)<\/script>/s.exec(out)?.[1];
  expect((page ?? out.replaceAll('\r\n', '\n')).match(raw)).toBeNull();
  expect(err.match(raw)).toBeNull();
});

test('colours are the command’s own, and none is the record’s', () => {
  const { out } = ekkon.coloured('check', file, '--claims', claims);
  expect(out).toMatch(colours);
  expect(out.replaceAll(colours, '').match(raw)).toBeNull();
  expect(out).toContain('\\u001b[31m');
});

test('none is in a live error, in its stack, or in a summary', () => {
  const { ledger, claim, open } = evilLedger();
  const said: unknown[] = [summary(ledger), summary(open)];
  for (const run of [() => check(claim()), () => check(nothingElse(ledger)), () => ledger.observe({}, evil as never), () => ledger.close()])
    try {
      run();
    } catch (error) {
      const { message, stack, actual, expected } = error as ClaimError;
      said.push(message, stack, actual, expected);
    }
  expect(said.length).toBeGreaterThan(10);
  expect(said.filter((text) => raw.test(String(text)))).toEqual([]);
});
