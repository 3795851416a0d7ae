import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { NotationError, parseClaims } from '../src/claims.ts';
import { loadLedger, repliesFrom, replyAll, saveLedger } from '../src/file/index.ts';
import * as ekkon from '../src/index.ts';
import * as requests from '../src/requests/index.ts';
import { importAgain } from '../src/seams/import-again.ts';
import { registerSeams } from '../src/seams/register.ts';
import { seams } from '../src/vite/index.ts';

const { call, check, gives, item, once, openLedger } = ekkon;
const ledger = openLedger({ rules: 'loose', name: 'good' });
const dome = ledger.standIn<{ open(to: number): void; angle: number }>('dome');
const host = { open() {}, angle: 1, Frame: class Frame {} };
const stream = ledger.follow(() => () => {}, 'rain');
const savedAt = join(mkdtempSync(join(tmpdir(), 'ekkon-bad-')), 'saved.jsonl');
dome.open(1);
saveLedger(ledger, savedAt);
const loadedLedger = loadLedger(savedAt);
const pattern = () => call(dome.open);
const claim = () => once(pattern());

/** Values of every kind; the names are what a table below may let pass. */
const values: Readonly<Record<string, unknown>> = {
  undefined: undefined,
  null: null,
  true: true,
  number: 5,
  NaN: Number.NaN,
  negative: -1,
  bigint: 5n,
  symbol: Symbol('s'),
  empty: '',
  text: 'text',
  object: {},
  unknown: { nobodyReadsThis: 1 },
  list: [],
  holes: [undefined, 'x'],
  function: () => {},
  class: class Bad {},
  date: new Date(0),
  regexp: /x/,
  map: new Map(),
  promise: Promise.resolve(1),
  error: new Error('bad'),
  proxy: new Proxy(
    {},
    {
      get: () => {
        throw new Error('do not touch');
      },
      ownKeys: () => {
        throw new Error('do not touch');
      },
    },
  ),
  'null prototype': Object.create(null),
  member: dome.open,
  'stand-in': dome,
  ledger,
  pattern: pattern(),
  claim: claim(),
  matcher: ekkon.anything,
  rest: ekkon.anyRest,
  reply: gives(1),
  stream,
};

const anyValue = Object.keys(values);
const objects = anyValue.filter((name) => typeof values[name] === 'object' && values[name] !== null);
const functions = ['function', 'class', 'member'];
const names = ['text'];
const optional = ['undefined'];
const options = [...optional, 'object', 'null prototype'];
const patterns = ['pattern'];

/** Each function with good arguments, and for each place the values that are good there too. */
const table: readonly (readonly [
  what: string,
  run: (...args: never[]) => unknown,
  good: readonly unknown[],
  passes: readonly (readonly string[])[],
])[] = [
  ['openLedger', openLedger, [{}], [options]],
  ['withLedger', ekkon.withLedger, [{}, () => {}], [[...options, 'function', 'class', 'member'], functions]],
  ['summary', ekkon.summary, [dome], [['member', 'stand-in', 'ledger', 'stream']]],
  ['instances', ekkon.instances, [ledger.constructible('Frame', host.Frame)], [['member']]],
  ['standIn', ledger.standIn, ['camera', host.Frame, {}], [names, [...optional, ...objects, 'class', 'member', 'function'], options]],
  ['standIns', ledger.standIns, [{}], [options]],
  ['callable', ledger.callable, ['done', {}], [names, options]],
  ['constructible', ledger.constructible, ['Frame', host.Frame, {}], [names, [...optional, 'class', 'member'], options]],
  ['observe', ledger.observe, [host, 'angle', {}], [[], [], options]],
  ['takeOver', ledger.takeOver, [{ open() {} }, 'open', {}], [[], [], options]],
  ['observeHidden', ledger.observeHidden, [{ open() {} }, 'open', {}], [[], [], options]],
  ['follow', ledger.follow, [() => () => {}, 'rain'], [['function', 'class', 'member', 'stream'], names]],
  ['entries', ledger.entries, [pattern()], [[...optional, ...patterns]]],
  ['mark', ledger.mark, ['dusk'], [[...optional, ...names, 'empty']]],
  ['atClose', ledger.atClose, [claim()], [['claim']]],
  ['call', call, [dome.open, [1]], [['member'], [...optional, 'list', 'holes']]],
  ['reads', ekkon.reads, [dome, 'angle'], [['stand-in', 'member'], anyValue]],
  ['writes', ekkon.writes, [dome, 'angle', 5], [['stand-in', 'member'], anyValue, anyValue]],
  ['item', item, [stream, 5], [['stream'], anyValue]],
  ['completed', ekkon.completed, [stream], [['stream']]],
  ['failed', ekkon.failed, [stream], [['stream']]],
  ...(['returned', 'threw', 'fulfilled', 'rejected', 'settled', 'unfinished'] as const).map(
    (end) => [end, ekkon[end], [pattern()], [patterns]] as const,
  ),
  ['once', once, [pattern()], [patterns]],
  ['never', ekkon.never, [pattern()], [patterns]],
  ['times', ekkon.times, [2, pattern()], [['number'], patterns]],
  ['inFlight', ekkon.inFlight, [2, pattern()], [['number'], patterns]],
  ...(['inTurn', 'inAnyOrder', 'either', 'unbroken', 'optional'] as const).map((step) => [step, ekkon[step], [pattern()], [patterns]] as const),
  ['loop', ekkon.loop, [2, pattern()], [['number'], patterns]],
  ['onlyAfter', ekkon.onlyAfter, [pattern(), pattern()], [patterns, patterns]],
  ['leadsTo', ekkon.leadsTo, [pattern(), pattern()], [patterns, patterns]],
  ['exactItems', ekkon.exactItems, [stream, [1]], [['stream'], ['list', 'holes']]],
  ['nothingElse', ekkon.nothingElse, [dome], [['member', 'stand-in', 'ledger', 'stream']]],
  ['conforms', ekkon.conforms, [dome, host], [['stand-in', 'member'], objects.concat(functions)]],
  ['during', ekkon.during, [{ until: pattern() }, claim()], [[], ['claim']]],
  ['check', check, [claim()], [['claim']]],
  ['plan', ekkon.plan, [pattern(), gives(1)], [['pattern', 'claim'], ['reply']]],
  ['computes', ekkon.computes, [() => 1], [functions]],
  ['callsBack', ekkon.callsBack, [[1], {}], [['list', 'holes'], options]],
  ['typeOf', ekkon.typeOf, ['string'], [[]]],
  ['instanceOf', ekkon.instanceOf, [host.Frame], [['class', 'member', 'function']]],
  ['about', ekkon.about, [1, 0.5], [['number', 'negative'], optional.concat('number')]],
  ['between', ekkon.between, [1, 2], [['negative'], ['number']]],
  ['textLike', ekkon.textLike, [/x/], [['regexp']]],
  ['startsWith', ekkon.startsWith, ['x'], [['text']]],
  ['endsWith', ekkon.endsWith, ['x'], [['text']]],
  ['partial', ekkon.partial, [{ a: 1 }], [['unknown', 'holes', 'proxy', 'error', 'ledger', 'pattern', 'claim', 'reply']]],
  ['sized', ekkon.sized, [2], [['number']]],
  ['unordered', ekkon.unordered, [[1]], [['list', 'holes']]],
  ['suchThat', ekkon.suchThat, [() => true, 'good'], [functions, [...optional, 'text']]],
  ['ofSchema', ekkon.ofSchema, [{ '~standard': { version: 1, vendor: 'x', validate: () => ({ value: 1 }) } }], [[]]],
  ['defineMatcher', ekkon.defineMatcher, [() => ({ prints: 'x', differences: () => [] })], [functions]],
  ['reveal', ekkon.reveal, [host.Frame, () => 1], [['class', 'member', 'function'], functions]],
  ['saveLedger', saveLedger, [ledger, join(mkdtempSync(join(tmpdir(), 'ekkon-bad-')), 'x.jsonl')], [['ledger']]],
  ['parseClaims', parseClaims, ['once dome.open', ledger], [[], ['ledger']]],
  ['repliesFrom', repliesFrom, [loadedLedger], [[]]],
  ['replyAll', replyAll, [dome, loadedLedger], [['stand-in'], []]],
  ['loadLedger', loadLedger, [''], [['text']]],
  ['seams', seams, [{}], [options]],
] as never;

/** What an engine says if a value is used for what it is not: nobody looked at it. */
const unchecked =
  /Cannot (read|convert|set|destructure)|is not (a function|iterable|an object|a constructor|extensible)|undefined \(|do not touch|Invalid|ENOENT.*undefined|must be of type/;

for (const [what, run, good, passes] of table) {
  test(`${what}() refuses what it cannot use in one clear line`, async () => {
    for (const [place, accepted] of passes.entries()) {
      for (const [kind, value] of Object.entries(values)) {
        const args = good.map((each, at) => (at === place ? value : each));
        let said: unknown;
        try {
          await run(...(args as never[]));
        } catch (error) {
          said = error;
        }
        const isFine = accepted.includes(kind);
        if (said === undefined) expect([place, kind, isFine ? 'passes' : 'passes, and should not']).toEqual([place, kind, 'passes']);
        // An error of the value's own is nobody's to hide.
        else if (!isFine && (said as Error).message !== 'do not touch' && !(said instanceof NotationError)) {
          expect([place, kind, said]).toEqual([place, kind, expect.any(TypeError)]);
          const { message } = said as Error;
          expect([place, kind, unchecked.test(message) ? message : '']).toEqual([place, kind, '']);
          expect([place, kind, message.split('\n').length, message.length < 400]).toEqual([place, kind, 1, true]);
        }
      }
    }
  });
}

/** What takes just so many values, by how many. */
const takers = [
  'passesThrough deferred',
  'once never optional settled unfinished completed typeOf instanceOf identical textLike startsWith endsWith includes partial allItems sized unordered not ofSchema gives throws fulfils rejects computes entries responds',
  'times inFlight onlyAfter leadsTo during exactItems conforms loop call reads item failed returned threw fulfilled rejected about between suchThat callsBack',
  'writes',
  'request',
].flatMap((some, most) => some.split(' ').map((name) => [name, most] as const));

test.each(takers)('%s() refuses more values than it takes (%i), and what it offers for several works', (name, most) => {
  const park = openLedger({ callSites: 0, rules: 'loose' });
  const { mount, gauge } = park.standIns<{
    mount: { slewTo(ra: number, dec: number): Promise<number>; park(): void };
    gauge: { temperature: number };
  }>();
  const parts = {
    ...ekkon,
    ...requests,
    mount,
    gauge,
    ledger: park,
    dome: park.standIn('dome'),
    rain: park.follow(() => () => {}, 'rain'),
    fetch: park.callable<requests.Fetch>('fetch'),
  };
  const run = { ...ekkon, ...requests, entries: park.entries }[name as 'once'];
  const more = Array.from({ length: most + 1 }, () => call(mount.park)) as never as [never];
  const refused = /^(\w+)\(\) takes (?:no value|one value|\d values) and was given (\d), so the last would be ignored\.(?: Write (.+)\.)?$/;
  expect(() => run(...more)).toThrow(refused);
  try {
    run(...more);
  } catch (error) {
    const [, said, given, instead = '1'] = refused.exec((error as Error).message) ?? [];
    expect([said, given]).toEqual([name, String(most + 1)]);
    expect(new Function(...Object.keys(parts), `return [${instead}]`)(...Object.values(parts)).length).toBeGreaterThan(0);
  }
});

test('a list of patterns can be mapped to claims', () => {
  const parts = openLedger({ callSites: 0 }).standIns<{ dome: { open(): void; close(): void } }>();
  parts.dome.open();
  const patterns = [call(parts.dome.open), call(parts.dome.close)];
  expect(() => check(patterns.map(once))).toThrow(/dome\.close/);
  // The place of each would be the value that is claimed.
  expect(() => patterns.map(ekkon.returned as never)).toThrow(/^returned\(\) takes 2 values and was given 3/);
  expect(() => once(...([patterns[0], 0, patterns, 1] as never as [never]))).toThrow(/^once\(\) takes one value and was given 4/);
  check(
    patterns
      .map(ekkon.optional)
      .map((step) => ekkon.inTurn(step, call(parts.dome.open)))
      .slice(1),
  );
});

test('registerSeams() refuses what seams() does', () => {
  for (const bad of [5, 'x', [], null, { off: ['x'] }, { of: 'x' }, { of: [5] }, { absent: ['x'] }, { absent: { '#night': 'x' } }])
    for (const run of [seams, registerSeams]) expect(() => run(bad as never)).toThrow(/^(seams|registerSeams)\(\): [^\n]+$/);
});

test('what waits refuses by its promise', async () => {
  for (const value of [undefined, null, 5, 'x', {}, [], pattern()]) {
    await expect(ekkon.reach(value as never)).rejects.toThrow(/^reach\(\)/);
    await expect(ekkon.stays(value as never, { for: 1 })).rejects.toThrow(/^stays\(\)/);
    await expect(importAgain(value as never)).rejects.toThrow(/^importAgain\(\)/);
  }
  for (const value of [null, 5, 'x', [], { within: 'x' }, { within: -1 }, { within: Number.NaN }, { withn: 1 }])
    await expect(ekkon.reach(claim(), value as never)).rejects.toThrow(/^reach(\(\))?:/);
});
