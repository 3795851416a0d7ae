import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyValue } from '../../tests/any-value.ts';
import { compare } from '../match/compare.ts';
import { printValue, shortValue } from '../notation/value.ts';
import { copyOf } from './copy.ts';
import { fromLines, type LoadedEntry, toLines } from './lines.ts';

const entry = (args: readonly unknown[], id = 1): LoadedEntry => ({
  id,
  label: 'archive.store',
  double: 'archive',
  member: 'store',
  at: { began: 1_000 + id, ended: 2_000 + id },
  kind: 'call',
  args,
  receiver: undefined,
  began: 2 * id - 1,
  ended: 2 * id,
  outcome: { state: 'returned', value: args[0] },
  site: { file: 'src/night-run.ts', line: 48, column: 3 },
  parent: undefined,
  answer: { plan: 'archive.store', reply: 'gives 1' },
});

const lines = (entries: readonly LoadedEntry[]) => toLines({ name: 'kept', entries: () => entries }, { show: shortValue });
const there = (entries: readonly LoadedEntry[]) => fromLines(lines(entries).join('\n'));

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
    fc.assert(
      fc.property(fc.array(anyValue({ withNullPrototype: true }), { maxLength: 3 }), (raw) => {
        const written = entry(raw.map((value) => copyOf(value)));
        const [read] = there([written]).entries();
        return isDeepStrictEqual(read, written);
      }),
    );
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
  test.each(rare)('prints the same where it held %s', (_, value) => {
    const [read] = there([entry([copyOf(value)])]).entries();
    expect(printValue(read?.args)).toBe(printValue([value]));
  });

  test('keeps what has not ended as it was', () => {
    const base = { ...entry([]), ended: undefined, at: { began: 1_001, ended: undefined } };
    const open = [
      { ...base, outcome: { state: 'pending' } as const },
      { ...base, id: 2, began: 2, outcome: { state: 'running' } as const, parent: 1 },
    ];
    expect(there(open).entries()).toEqual(open);
  });

  test('loads up to the cut wherever its last line was cut off', () => {
    const whole = lines([entry(['frame-1']), entry(['frame-2'], 2)]).join('\n');
    const start = whole.lastIndexOf('\n') + 1;
    for (let at = start + 1; at < whole.length; at++) {
      const { entries, truncated } = fromLines(whole.slice(0, at));
      expect(truncated).toBe(true);
      expect(entries().map(({ ended }) => ended)).toEqual([2, undefined]);
    }
    expect(fromLines(`${whole}\n`).truncated).toBe(false);
  });

  const header = '{"ekkon":"ledger","version":1,"name":"kept"}';
  const wrong: readonly [string, string, RegExp][] = [
    ['nothing', '', /not a ledger file: its first line is not the header/],
    ['another format', '{"a":1}', /not a ledger file/],
    ['a newer version', '{"ekkon":"ledger","version":2}', /version 2.*only versions up to 1 can be read: use a newer ekkon/],
    [
      'a broken line inside',
      `${header}\n{"tick":1,\n{"tick":2,"ends":1,"state":"threw"}`,
      /line 2 is not an event of a ledger: not an object in JSON/,
    ],
    ['an end without a beginning', `${header}\n{"tick":1,"ends":7,"state":"threw"}`, /line 2 .* entry #7 ends, and never began/],
    ['no tick', `${header}\n{"begins":1}`, /line 2 .* "tick" is undefined, and must be a whole number/],
    [
      'an unknown state',
      `${lines([entry([])])
        .slice(0, 2)
        .join('\n')}\n{"tick":2,"ends":1,"at":1,"state":"lost"}`,
      /line 3 .* "state" is "lost"/,
    ],
    [
      'an unknown value',
      `${header}\n{"tick":1,"begins":1,"label":"a","of":["a",""],"at":1,"args":[{"$":"lens"}]}`,
      /line 2 .* a kind unknown here: "lens"/,
    ],
  ];
  test.each(wrong)('is refused with the line that is wrong: %s', (_, text, message) => {
    expect(() => fromLines(text)).toThrow(message);
  });
});

test('a value read back fits a claim as the recorded one did', () => {
  const value = { at: new Map([['north', [1, 2]]]), when: new Date(0) };
  const [read] = there([entry([copyOf(value)])]).entries();
  expect(compare(value, read?.args[0])).toEqual([]);
});
