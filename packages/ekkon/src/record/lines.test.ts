import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import ledgerSchema from '../../schema/ledger.schema.json' with { type: 'json' };
import { anyValue } from '../../tests/any-value.ts';
import { forAll } from '../../tests/for-all.ts';
import { loadLedger, saveAsItGrows } from '../file/index.ts';
import { call, computes, deferred, fulfils, gives, openLedger, plan } from '../index.ts';
import { compare } from '../match/compare.ts';
import { printValue, shortValue } from '../notation/value.ts';
import { doublesNamed } from './double-names.ts';
import { entryData } from './entry-data.ts';
import type { Journal } from './journal.ts';
import { toLines } from './lines.ts';
import { fromLines } from './read-lines.ts';
import { tied } from './tie.ts';

/** A ledger with one call of these arguments, which gave the first of them. */
function recorded(args: readonly unknown[]): Journal {
  const ledger = openLedger({ name: 'kept', rules: 'loose' });
  const { archive } = ledger.standIns<{ archive: { store(...args: unknown[]): unknown } }>();
  plan(call(archive.store), gives(args[0]));
  archive.store(...args);
  return tied(ledger)?.journal as Journal;
}

const lines = (journal: Journal) => toLines(journal, { show: shortValue });
const there = (journal: Journal) => fromLines(lines(journal).join('\n')).journal.entries.map(entryData);

const schema = new Ajv2020({ strict: false }).compile(ledgerSchema);
/** Every line that is written is one of the published schema. */
function validLines(journal: Journal): readonly string[] {
  const written = lines(journal);
  for (const line of written) expect([line, schema(JSON.parse(line)), schema.errors]).toEqual([line, true, null]);
  return written;
}

function derived(): readonly object[] {
  class Stars extends Map<string, unknown> {
    site = 'north';
  }
  class Names extends Set<string> {}
  class Night extends Date {
    moon = 0.4;
  }
  class Frames extends Array<number> {
    lens = 'wide';
  }
  return [new Stars([['Velmira', { ra: 1 }]]), new Names(['Oriane']), new Night(0), Frames.of(1, 2), Object.assign(new Map(), { more: [1] })];
}

function form(): FormData {
  const fields = new FormData();
  fields.append('star', 'Velmira');
  return fields;
}

describe('a record written and read back', () => {
  test('is the same, for whatever values', () => {
    forAll(100, fc.array(anyValue({ withNullPrototype: true }), { maxLength: 3 }), (raw) => {
      const journal = recorded(raw);
      validLines(journal);
      const [read] = there(journal);
      const [written] = journal.entries.map(entryData);
      return isDeepStrictEqual({ ...read, liveArgs: 0, receiver: 0, sites: 0 }, { ...written, liveArgs: 0, receiver: 0, sites: 0 });
    });
  });

  class Frame {
    readonly id = 'frame-1';
  }
  const cyclic: { self?: object; twice: object[] } = { twice: [] };
  cyclic.self = cyclic;
  cyclic.twice.push({ a: 1 }, { a: 1 });
  cyclic.twice[1] = cyclic.twice[0] ?? {};
  const rare: readonly [string, unknown][] = [
    ['cycles and shared parts', cyclic],
    ['errors with a cause', new RangeError('too far', { cause: new Error('wind') })],
    ['instances by the name of their class', new Frame()],
    ['regular expressions', Object.assign(/a+/gi, { lastIndex: 2 })],
    ['addresses', [new URL('https://archive.example/frames?id=1'), new URLSearchParams('a=1&a=2')]],
    ['views and buffers', [new DataView(new Uint8Array([1, 2]).buffer), new Uint8Array([3]).buffer]],
    ['shared symbols', { [Symbol.for('velmira')]: Symbol.for('oskane') }],
    ['objects that look like the format', { $: 'same', as: 0 }],
    ['arrays with names', Object.assign([1, 2], { groups: 'x' })],
    ['functions', { open: function open() {} }],
    ['maps, sets, dates and lists of classes derived from them', derived()],
    ['buffers', Buffer.from('frame')],
    ['responses and requests', [new Response('x', { status: 500, headers: { a: 'b' } }), new Request('http://archive.example/', { method: 'PUT' })]],
    ['events and what they say', new CustomEvent('drift', { detail: { at: [1] } })],
    ['forms, headers and exceptions', [form(), new Headers({ a: 'b' }), new DOMException('too dark', 'AbortError')]],
    ['streams and promises', [new ReadableStream(), Promise.resolve()]],
  ];
  test('is valid where it held doubles', () => {
    const ledger = openLedger({ name: 'kept', rules: 'loose' });
    const { dome, mount } = ledger.standIns<{ dome: { open(...what: unknown[]): unknown }; mount: { park(): void } }>();
    plan(call(dome.open), gives(mount));
    dome.open(mount, [mount.park], { dome });
    validLines(tied(ledger)?.journal as Journal);
  });

  test.each(rare)('prints the same where it held %s', (_, value) => {
    const journal = recorded([value]);
    validLines(journal);
    const [read] = there(journal);
    expect(printValue(read?.args)).toBe(printValue([value]));
  });

  test('keeps the names and the classes of lists', () => {
    class Rows extends Array<number> {}
    const [written = ''] = lines(recorded([Object.assign([1], { unit: 'cm' }), Rows.of(1)])).filter((line) => line.includes('"begins"'));
    const { args } = JSON.parse(written) as { args: readonly { own: readonly unknown[]; class?: string }[] };
    expect(args.map((arg) => [arg.own.length, arg.class])).toEqual([
      [1, undefined],
      [0, 'Rows'],
    ]);
  });

  test('keeps what has not ended, marks, doubles and what answered as they were', () => {
    const ledger = openLedger({ name: 'kept', rules: 'loose' });
    const { mount } = ledger.standIns<{ mount: { slewTo(to: number): Promise<void>; park(): Promise<void>; stop(): void } }>();
    const stream = ledger.follow<number>((emit) => {
      emit(4);
      return () => {};
    }, 'rain');
    ledger.callable('never used');
    plan(call(mount.slewTo), deferred());
    plan(call(mount.park), fulfils(undefined));
    void mount.slewTo(4);
    plan(
      call(mount.stop),
      computes(() => void mount.park()),
    );
    ledger.mark('dusk');
    ledger.mark();
    mount.stop();
    const journal = tied(ledger)?.journal as Journal;
    const { journal: read } = fromLines(validLines(journal).join('\n'));
    const shown = (each: Journal) => each.entries.map((entry) => ({ ...entryData(entry), liveArgs: 0, receiver: 0, sites: 0 }));
    expect(shown(read)).toEqual(shown(journal));
    expect(read.marks.map(({ tick, label }) => [tick, label])).toEqual(journal.marks.map(({ tick, label }) => [tick, label]));
    expect(read.entries.map(({ parent }) => parent)).toContain(3);
    expect([...doublesNamed(read)]).toEqual([
      ['mount', 'stand-in'],
      ['rain', 'stream'],
      ['never used', 'callable'],
    ]);
    expect([read.tick, read.openedAt, stream.items]).toEqual([journal.tick, journal.openedAt, [4]]);
    expect(lines(read)).toEqual(lines(journal));
  });

  test('loads up to the cut wherever it was cut off, and knows it', () => {
    const whole = lines(recorded(['frame-1'])).join('\n');
    const [end, close] = [whole.lastIndexOf('{"tick"'), whole.lastIndexOf('{"closes"')];
    for (let at = whole.indexOf('\n'); at < whole.length; at++) {
      const { journal, truncated } = fromLines(whole.slice(0, at));
      expect(truncated).toBe(true);
      expect(journal.entries[0]?.ended).toBe(at >= close - 1 ? 2 : undefined);
    }
    expect(fromLines(whole).truncated).toBe(false);
    expect(() => fromLines(`${whole}\n${whole.slice(end, close - 1)}`)).toThrow('it stands behind the closing line');
    expect(() => fromLines(whole.replace('"entries":1', '"entries":2'))).toThrow('the record has 2 entries, and 1 were read');
  });

  test('a file that is written as the record grows holds what there was at each moment', async () => {
    const ledger = openLedger({ name: 'kept', rules: 'loose' });
    const { mount } = ledger.standIns<{ mount: { slewTo(to: number): Promise<void> } }>();
    const path = join(mkdtempSync(join(tmpdir(), 'ekkon-grows-')), 'night.ledger.jsonl');
    void mount.slewTo(1);
    saveAsItGrows(ledger, path);
    const slewed = deferred();
    plan(call(mount.slewTo), slewed);
    void mount.slewTo(2);
    ledger.mark('dusk');
    ledger.standIn<{ open(): void }>('dome').open();
    const written = readFileSync(path, 'utf8').split('\n').filter(Boolean);
    expect(written.every((line) => schema(JSON.parse(line)))).toBe(true);
    const then = loadLedger(path);
    expect(then.entries().map(({ label, outcome }) => [label, outcome.state])).toEqual([
      ['mount.slewTo', 'returned'],
      ['mount.slewTo', 'pending'],
      ['dome.open', 'returned'],
    ]);
    slewed.fulfil();
    await Promise.resolve();
    ledger.close();
    const states = (each: { entries(): readonly { outcome: { state: string } }[] }) => each.entries().map(({ outcome }) => outcome.state);
    expect(states(loadLedger(path))).toEqual(states(ledger));
    expect(() => saveAsItGrows(ledger, path)).toThrow('ledger "kept" is closed');
  });

  const header = '{"ekkon":"ledger","version":1,"name":"kept"}';
  const wrong: Readonly<Record<string, readonly [string, RegExp]>> = {
    nothing: ['', /not a ledger file: its first line is not the header/],
    'another format': ['{"a":1}', /not a ledger file/],
    'a newer version': ['{"ekkon":"ledger","version":2}', /version 2.*only versions up to 1 can be read: use a newer ekkon/],
    'a broken line inside': [
      `${header}\n{"tick":1,\n{"tick":2,"ends":1,"state":"threw"}`,
      /line 2 is not an event of a ledger: not an object in JSON/,
    ],
    'an end without a beginning': [`${header}\n{"tick":1,"ends":7,"state":"threw"}`, /line 2 .* entry #7 ends, and never began/],
    'no tick': [`${header}\n{"begins":1}`, /line 2 .* "tick" is undefined, and must be a whole number/],
    'an unknown state': [`${lines(recorded([])).slice(0, 3).join('\n')}\n{"tick":2,"ends":1,"at":1,"state":"lost"}`, /line 4 .* "state" is "lost"/],
    'a tick that comes too late': [`${header}\n{"tick":2,"mark":null}\n{"tick":2,"mark":"a"}`, /line 3 .* tick 2 comes after tick 2/],
    'an entry out of turn': [`${header}\n{"tick":1,"begins":2,"label":"a","of":["a"],"at":1,"args":[]}`, /line 2 .* #2 begins where #1 is expected/],
    'values too deep': [
      `${header}\n{"tick":1,"begins":1,"label":"a","of":["a"],"at":1,"args":[${'['.repeat(100_000)}${']'.repeat(100_000)}]}`,
      /line 2 .* nested too deeply/,
    ],
    'an unknown value': [
      `${header}\n{"tick":1,"begins":1,"label":"a","of":["a",""],"at":1,"args":[{"$":"lens"}]}`,
      /line 2 .* a kind unknown here: "lens"/,
    ],
  };
  test.each(Object.entries(wrong))('is refused with the line that is wrong: %s', (_, [text, message]) => {
    expect(() => fromLines(text)).toThrow(message);
  });
});

test('a value read back fits a claim as the recorded one did', () => {
  const value = { at: new Map([['north', [1, 2]]]), when: new Date(0) };
  const [read] = there(recorded([value]));
  expect(compare(value, read?.args[0])).toEqual([]);
});
