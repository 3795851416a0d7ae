import { createSecretKey } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { createServer } from 'node:net';
import { PassThrough } from 'node:stream';
import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { failure, messageOf } from '../../tests/failure.ts';
import { forAll } from '../../tests/for-all.ts';
import { recording, type Standing } from '../../tests/standing.ts';
import { never, once } from '../claim/count.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { call } from '../pattern/call.ts';
import { plan } from '../plan/plan.ts';
import { gives } from '../plan/reply.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { copyOf } from '../value/copy.ts';
import { reveal } from '../value/revealed.ts';
import { check } from '../wait/check.ts';
import { allItems, includes, sized, unordered } from './collections.ts';
import { fitOf } from './compare.ts';
import { identical } from './identical.ts';
import { anyOf, not } from './logic.ts';
import { partial } from './partial.ts';
import { suchThat } from './such-that.ts';
import { instanceOf } from './type-of.ts';

function record(...values: unknown[]) {
  const ledger = openLedger({ name: 'values', rules: 'loose' });
  const store = ledger.callable<(...values: unknown[]) => void>('store');
  store(...values);
  return { ledger, store };
}

/** How it stands that a value that was recorded is as claimed, and that it is not. */
function standings(value: unknown, claimed: unknown): readonly Standing[] {
  const recorded = recording(value);
  return [recorded.is(claimed), recorded.isNot(claimed)];
}

const holds = ['holds', 'fails'];
const fails = ['fails', 'holds'];
const undecided = ['undecided', 'undecided'];

class Gauge {
  site = 'north';
  #celsius: number;
  constructor(celsius: number) {
    this.#celsius = celsius;
  }
  read() {
    return this.#celsius;
  }
}

/** Shows what it holds through an accessor alone. */
class Frame {
  seconds: number;
  constructor(seconds: number) {
    this.seconds = seconds;
  }
  get minutes() {
    return this.seconds / 60;
  }
}

describe('a class of somebody’s own is not the platform’s, whatever it is called', () => {
  const members: Readonly<Record<string, readonly string[]>> = {
    Server: ['address', 'listen'],
    Worker: ['postMessage', 'terminate'],
    Stream: ['pipe'],
    Socket: ['bind', 'send'],
    KeyObject: ['export', 'equals'],
    ChildProcess: ['kill'],
    WebSocket: ['close', 'send'],
    MessagePort: ['postMessage'],
    Node: ['nodeName', 'nodeType'],
    EventTarget: ['addEventListener', 'dispatchEvent'],
    Event: ['composedPath', 'preventDefault'],
    Request: ['clone', 'method', 'redirect'],
    Headers: ['append', 'get', 'forEach'],
    Blob: ['size', 'slice'],
  };
  test.each(Object.entries(members))('%s', (name, names) => {
    const type = { [name]: class {} }[name] as new () => object;
    for (const each of names) Object.defineProperty(type.prototype, each, { value() {}, configurable: true });
    const make = (port: number) => Object.assign(new type(), { port });
    expect(standings(make(4), make(4))).toEqual(holds);
    expect(standings(make(4), make(5))).toEqual(fails);
  });

  test('and the platform’s own have an identity', async () => {
    const { port1, port2 } = new MessageChannel();
    port1.close();
    for (const [one, other] of [
      [createServer(), createServer()],
      [new PassThrough(), new PassThrough()],
      [createSocket('udp4').unref(), createSocket('udp4').unref()],
      [createSecretKey('a', 'utf8'), createSecretKey('a', 'utf8')],
      [port1, port2],
      [new ReadableStream(), new ReadableStream()],
      [new EventTarget(), new EventTarget()],
      [Promise.resolve(1), Promise.resolve(1)],
    ] as const) {
      expect(standings(one, one)).toEqual(holds);
      expect(standings(one, other)).toEqual(fails);
    }
  });

  test('an event of a kind that nobody knows is undecided if all that is known agrees', () => {
    class TideEvent extends Event {
      get height() {
        return 4;
      }
    }
    Object.defineProperty(TideEvent.prototype, Symbol.toStringTag, { value: 'TideEvent' });
    expect(standings(new TideEvent('tide'), new TideEvent('tide'))).toEqual(undecided);
    expect(standings(new TideEvent('tide'), new TideEvent('ebb'))).toEqual(fails);
    expect(recording(new TideEvent('tide')).firstLine(new TideEvent('tide'))).toContain('its height was not read');
    class PlainEvent extends Event {}
    expect(standings(new Event('tide'), new PlainEvent('tide'))).toEqual(fails);
    const said = (data: unknown) => new MessageEvent('said', { data });
    expect([standings(said(1), said(1)), standings(said(1), said(2))]).toEqual([holds, fails]);
  });
});

describe('the third answer survives', () => {
  const [hot, cold] = [new Gauge(30), new Gauge(5)];
  const lost = () => {
    throw new Error('no such star');
  };
  const cases: Readonly<Record<string, readonly [unknown, unknown, readonly string[]]>> = {
    'in an object': [{ at: { gauge: hot } }, { at: { gauge: cold } }, undecided],
    'in an array': [[1, hot], [1, cold], undecided],
    'beside what differs': [[1, hot], [2, cold], fails],
    'in a set': [new Set([hot, 1]), new Set([1, cold]), undecided],
    'in a set of another size': [new Set([hot, 1]), new Set([cold]), fails],
    'in the values of a map': [new Map([['a', hot]]), new Map([['a', cold]]), undecided],
    'in the keys of a map': [new Map([[hot, 1]]), new Map([[cold, 1]]), undecided],
    'in the keys of a map with another value': [new Map([[hot, 1]]), new Map([[cold, 2]]), fails],
    'in any order': [[hot, 1], unordered([1, cold]), undecided],
    'in any order, beside what differs': [[hot, 1], unordered([2, cold]), fails],
    'in any order, paired in the one way that may fit': [[1, hot], unordered([cold, suchThat(lost)]), undecided],
    'among what is included': [[hot], includes(cold), undecided],
    'among what is included, if another one is': [[hot, 7], includes(anyOf(cold, 7)), holds],
    'in all items': [[hot, hot], allItems(cold), undecided],
    'in all items, beside one that differs': [[hot, 1], allItems(cold), fails],
    'in a part': [{ gauge: hot, a: 1 }, partial({ gauge: cold }), undecided],
    'turned round': [hot, not(cold), undecided],
    'in one of several': [hot, anyOf(1, cold), undecided],
    'in one of several, one of which fits': [hot, anyOf(cold, instanceOf(Gauge)), holds],
    'of a size that is not known': [Array.from({ length: 100_001 }, () => 0), sized(5), undecided],
    'of a predicate about what was too large': [Array.from({ length: 100_001 }, () => 0), suchThat((list: number[]) => list.length > 5), undecided],
    'of what an accessor gives': [Object.defineProperty({}, 'a', { get: () => 1, enumerable: true }), { a: 1 }, undecided],
    'of what an accessor gives, asked of a matcher': [
      Object.defineProperty({}, 'a', { get: () => 1, enumerable: true }),
      { a: instanceOf(Gauge) },
      undecided,
    ],
  };
  test.each(Object.entries(cases))('%s', (_, [value, claimed, expected]) => {
    expect(standings(value, claimed)).toEqual(expected);
  });

  test('of a thousand and more items in any order, which are told apart all the same', () => {
    const many = Array.from({ length: 5_000 }, (_, at) => (at % 2 === 0 ? at : `star ${at}`));
    const turned = [...many].reverse();
    expect(standings(many, unordered(turned))).toEqual(holds);
    expect(standings(many, unordered([...turned.slice(1), 'another']))).toEqual(fails);
    expect(standings(new Set(many), new Set(turned))).toEqual(holds);
  });
});

test.each([[[1]], [{ size: 1 }]])('a symbol beside %j counts', (value) => {
  const length = (unit: string) => Object.assign(structuredClone(value), { [Symbol.for('unit')]: unit });
  expect([standings(length('cm'), length('cm')), standings(length('cm'), length('mm'))]).toEqual([holds, fails]);
});

describe('the very object that was passed fits itself', () => {
  const cases: readonly [string, object][] = [
    ['a class that hides its state', new Gauge(5)],
    ['more bytes than are recorded', new Uint8Array(17 * 1024 * 1024)],
    ['more items than are recorded', Array.from({ length: 100_001 }, (_, at) => ({ at }))],
    ['an object with an accessor', Object.defineProperty({}, 'a', { get: () => 1, enumerable: true })],
    ['a weak collection', new WeakMap()],
    ['a generator', (function* () {})()],
    ['a promise', Promise.resolve()],
    ['a response', new Response('frame')],
    ['the global object', globalThis],
  ];
  test.each(cases)('%s', (_, value) => {
    expect(standings(value, value)).toEqual(holds);
    expect(standings({ deep: [value] }, { deep: [value] })).toEqual(holds);
    if (value instanceof Uint8Array) return; // Each copy of so many bytes takes long.
    expect(standings(new Map([['a', value]]), new Map([['a', value]]))).toEqual(holds);
    expect(standings([value, 1], unordered([1, value]))).toEqual(holds);
    expect(standings({ value, more: 1 }, partial({ value }))).toEqual(holds);
    expect(standings(value, identical(value))).toEqual(holds);
  });

  test('also if it was changed since, which its copy was not', () => {
    const exposure = { seconds: 30 };
    const { store } = record(exposure);
    exposure.seconds = 60;
    check(once(call(store, [exposure])), once(call(store, [{ seconds: 30 }])), never(call(store, [{ seconds: 60 }])));
    check(once(call(store, [{ seconds: 30 }])));
  });
});

test('two claims of the very same object say the same, whatever it hides', () => {
  for (const value of [new Gauge(5), new Response('frame'), new WeakMap(), { at: new Gauge(5) }]) {
    const read = openLedger({ rules: 'loose' }).callable<(value: unknown) => number>('read');
    plan(once(call(read, [value])), gives(1));
    plan(once(call(read, [value])), gives(2));
    plan(once(call(read, [new Gauge(5)])), gives(3));
    expect([read(value), read(value)]).toEqual([1, 2]);
  }
});

describe('instances', () => {
  class Tagged {
    readonly id: string;
    constructor(id: string, secret: number, tag: unknown) {
      this.id = id;
      Object.defineProperty(this, 'secret', { value: secret });
      Object.defineProperty(this, Symbol.for('tag'), { value: tag });
    }
  }
  const shared = () => 1;
  const withShared = () => Object.defineProperty(new Frame(30), 'live', { get: shared, enumerable: true });
  const cases: Readonly<Record<string, readonly [unknown, unknown, readonly string[]]>> = {
    'by all own properties': [new Tagged('a', 1, 'x'), new Tagged('a', 1, 'x'), holds],
    'by those that cannot be enumerated': [new Tagged('a', 1, 'x'), new Tagged('a', 2, 'x'), fails],
    'by symbols': [new Tagged('a', 1, 'x'), new Tagged('a', 1, 'y'), fails],
    'of a class without members': [new (class Empty {})(), new (class Empty {})(), fails],
    'with accessors that are shared': [withShared(), withShared(), undecided],
    'by a literal that names an accessor': [new Frame(30), { seconds: 30, minutes: 0.5 }, undecided],
    'by a part that is an accessor': [new Frame(30), partial({ minutes: 2 }), undecided],
    'by a part that is none': [new Frame(30), partial({ hours: 2 }), fails],
    'by a part that all of their class have': [new RangeError('far'), partial({ name: 'RangeError', message: 'far' }), holds],
    'by another name of their class': [new RangeError('far'), partial({ name: 'TypeError' }), fails],
    'by an accessor of the platform': [new Map([[1, 2]]), partial({ size: 1 }), holds],
    'by another size': [new Map([[1, 2]]), partial({ size: 2 }), fails],
    'by what their accessors are made of': [new Frame(30), new Frame(30), holds],
    'generators, which show nothing': [(function* () {})(), (function* () {})(), fails],
    'errors by all they say': [Object.assign(new Error('wind'), { code: 5 }), Object.assign(new Error('wind'), { code: 6 }), fails],
    'errors by what cannot be enumerated': [
      Object.defineProperty(new Error('wind'), 'code', { value: 5 }),
      Object.defineProperty(new Error('wind'), 'code', { value: 6 }),
      fails,
    ],
    'by an element of what is reached through them': [{ frame: new Frame(30) }, { frame: new Frame(31) }, fails],
  };
  test.each(Object.entries(cases))('%s', (_, [value, claimed, expected]) => {
    expect(standings(value, claimed)).toEqual(expected);
  });

  describe('without properties of their own', () => {
    const kept = new WeakMap<object, unknown>();
    const keep = (self: object, state: object) => kept.set(self, state);
    const keepAs = (state: unknown, self: object) => kept.set(self, state);
    const listed: unknown[] = [];
    class Kept {
      constructor(seconds: number) {
        keep(this, { seconds });
      }
    }
    class Heir extends Kept {}
    class Shown {
      get seconds() {
        return kept.get(this);
      }
    }
    class Listed {
      constructor(seconds: number) {
        listed.push({ of: this, seconds });
      }
    }
    class Aliased {
      constructor(seconds: number) {
        keep(this, [seconds]);
      }
    }
    class Named {
      constructor(seconds: number) {
        keepAs(String(seconds), this);
      }
    }
    function Old(this: object, seconds: number) {
      keep(this, { seconds });
    }
    class Rootless extends (null as unknown as typeof Object) {
      static of = () => Object.create(Rootless.prototype);
      get seconds() {
        return kept.get(this);
      }
    }
    const inherited = {
      get seconds() {
        return kept.get(this);
      },
    };
    class Fixed {
      constructor() {
        Object.freeze(this);
      }
      turn(): unknown {
        return this;
      }
    }
    class Turning extends Fixed {
      #by(degrees: number) {
        return degrees;
      }
      override turn(): unknown {
        this.#by(2);
        return [1].map(() => this.half.bind(this)) && super.turn.call(this) && Fixed.prototype.turn.apply(this);
      }
      half() {
        return this instanceof Turning ? this : undefined;
      }
    }
    class Asking {
      accept(visitor: { visit(self: object): void }, more: { visit(self: object): void }[]) {
        visitor.visit(this);
        visitor?.visit({ of: this } as object);
        for (const each of more) each.visit(this);
        return [String(this), Object.is(this, visitor), { ...this }];
      }
    }
    // What a compiler makes of private methods: the instance is marked, and asked for the mark.
    const marks = new WeakSet();
    const isMarked = (self: object, mark: WeakSet<object>) => mark.has(self);
    const isMarkedAs = (mark: WeakSet<object>, self: object) => mark.has(self);
    class Marked {
      constructor() {
        marks.add(this);
      }
      turn() {
        return isMarked(this, marks) && isMarkedAs(marks, this);
      }
    }
    class Listing extends Map<string, number> {
      constructor() {
        super([['night', 7]]);
        keep(this, {});
      }
    }
    test.each<[string, unknown, unknown, readonly string[]]>([
      ['of a class that hands them on', new Kept(30), new Kept(60), undecided],
      ['of one derived from such a class', new Heir(30), new Heir(60), undecided],
      ['of one with an accessor that reads elsewhere', new Shown(), new Shown(), undecided],
      ['kept in a list', new Listed(30), new Listed(60), undecided],
      ['handed on by another name', new Aliased(30), new Aliased(60), undecided],
      ['handed on behind what the platform makes', new Named(30), new Named(60), undecided],
      ['of a function', Reflect.construct(Old, [30]), Reflect.construct(Old, [60]), undecided],
      ['of a class derived from nothing', Rootless.of(), Rootless.of(), undecided],
      ['that inherit from an object', Object.create(inherited), Object.create(inherited), undecided],
      ['against a literal', new Kept(30), {}, undecided],
      ['of a class that keeps to itself', new Fixed(), new Fixed(), holds],
      ['of one that calls what is its own', new Turning(), new Turning(), holds],
      ['of one that marks them', new Marked(), new Marked(), holds],
      ['of one that shows them to whom it is given', new Asking(), new Asking(), holds],
      ['of a class derived from one that holds what can be seen, and perhaps more', new Listing(), new Listing(), undecided],
      ['beside another class', new Fixed(), new Turning(), fails],
    ])('%s', (_, value, claimed, expected) => {
      expect(standings(value, claimed)).toEqual(expected);
    });

    // Written as text, since a compiler would put other parentheses.
    test.each([
      [holds, 'visitors.forEach(each => each.meet(this))'],
      [holds, 'visitors.forEach(async (each, place) => each.meet(this))'],
      [holds, 'for (const { own: [each] } of visitors) each.meet(this)'],
      [holds, 'const [, each] = visitors; each.meet(this)'],
      [holds, 'const meet = ({ of: each }) => each.meet(this); visitors.map(meet)'],
      [undecided, 'if (states) { states.keep(this) }'],
      [undecided, 'while (states) { states.keep(this) }'],
      [undecided, 'visitors.map(each => { states.keep(this) })'],
      [undecided, 'enter(visitors, { at: states }); states.keep(this)'],
    ])('%s of a class whose method says: %s', (expected, says) => {
      const Room = new Function('states', `return class Room { enter(visitors) { ${says} } }`)(undefined);
      expect(standings(new Room(), new Room())).toEqual(expected);
    });
  });

  test('say what to write for what was not recorded of them, and that holds', () => {
    const { store } = record(new Frame(30));
    expect(messageOf(() => check(once(call(store, [partial({ minutes: 0.5 })]))))).toContain(
      '.minutes is an accessor of Frame, which was not run; to compare it: openLedger({ reveals: [reveal(Frame, ({ minutes }) => ({ minutes }))] }), or suchThat(({ minutes }: Frame) => minutes === 0.5)',
    );
    check(once(call(store, [suchThat(({ minutes }: Frame) => minutes === 0.5)])));
    const seen = openLedger({ rules: 'loose', reveals: [reveal(Frame, ({ minutes }) => ({ minutes }))] });
    const archive = seen.callable<(frame: Frame) => void>('archive');
    archive(new Frame(30));
    check(once(call(archive, [partial({ minutes: 0.5 })])));
  });

  test('have less room for what is reached through them, and more than any of one’s own needs', () => {
    class Night {
      frames = Array.from({ length: 100 }, (_, at) => new Frame(at));
      counts = Array.from({ length: 10_000 }, (_, at) => at);
    }
    expect(standings(new Night(), new Night())).toEqual(holds);
    class Node {
      next: Node | undefined;
    }
    let chain = new Node();
    for (let at = 0; at < 2_000; at++) chain = Object.assign(new Node(), { next: chain });
    expect(standings({ chain }, { chain: copyOf(chain) })).toEqual(undecided);
  });
});

describe('the record', () => {
  const exposure = () => ({ at: [{ ra: 83.6 }], seen: new Set([{ a: 1 }]), on: new Date(0), bytes: new Uint8Array([1]) });

  test('is not written to by predicates, nor by what entries() gives', () => {
    const { ledger, store } = record(exposure(), { at: [{ ra: 83.6 }] });
    const spoil = suchThat((value: ReturnType<typeof exposure>) => {
      value.at.length = 0;
      value.seen.clear();
      value.on.setTime(5);
      value.bytes[0] = 9;
      return true;
    });
    const sorting = suchThat((value: { at: { ra: number }[] }) => value.at.reverse().push({ ra: 1 }) > 1);
    check(once(call(store, [spoil, sorting])));
    const [entry] = ledger.entries();
    const [first, second] = (entry?.args ?? []) as unknown as [ReturnType<typeof exposure>, { at: unknown[] }];
    expect(first).toEqual(exposure());
    first.seen.clear();
    second.at.length = 0;
    check(once(call(store, [exposure(), { at: [{ ra: 83.6 }] }])));
    expect(ledger.entries()[0]?.args).toEqual([exposure(), { at: [{ ra: 83.6 }] }]);
  });

  test('gives others the objects that could not be copied', () => {
    const values = [new Gauge(5), new Response('frame', { status: 500 }), new URL('http://archive.example/a')] as const;
    const { ledger, store } = record(...values);
    const args = ledger.entries()[0]?.args ?? [];
    expect(args.map((each, at) => each === values[at])).toEqual([true, true, true]);
    check(
      once(
        call(store, [
          suchThat((gauge: Gauge) => gauge.read() === 5),
          suchThat((response: Response) => response.status === 500),
          suchThat(({ pathname }: URL) => pathname === '/a'),
        ]),
      ),
    );
  });
});

test('values of every kind are told apart as the platform does', () => {
  class Star {
    readonly name: string;
    readonly more: unknown;
    constructor(name: string, more: unknown) {
      this.name = name;
      this.more = more;
    }
  }
  const leaf = fc.oneof(fc.integer({ min: 0, max: 2 }), fc.constantFrom('a', 'b', undefined, null, Number.NaN, 0, -0, 1n));
  const { value } = fc.letrec((tie) => ({
    value: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc.array(tie('value'), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'c'), tie('value'), { maxKeys: 3 }),
      fc.array(fc.tuple(leaf, tie('value')), { maxLength: 2 }).map((entries) => new Map(entries)),
      fc.array(leaf, { maxLength: 3 }).map((items) => new Set(items)),
      fc.tuple(fc.constantFrom('Velmira', 'Oriane'), tie('value')).map(([name, more]) => new Star(name, more)),
      fc.tuple(fc.constantFrom('wind', 'rain'), leaf).map(([message, code]) => Object.assign(new Error(message), { code })),
      fc.integer({ min: 0, max: 1 }).map((time) => new Date(time)),
      fc.uint8Array({ maxLength: 2 }),
      fc.constantFrom('http://a.example/', 'http://b.example/').map((text) => new URL(text)),
    ),
  }));
  const withoutSign = (given: unknown): unknown => JSON.stringify(given, (_, held) => (typeof held === 'bigint' ? `${held}` : held)) ?? given;
  forAll(2_000, value, value, (one, other) => {
    const fit = fitOf(copyClaimed(one), copyOf(other));
    // The platform tells 0 from -0, which a claim does not.
    if (isDeepStrictEqual(one, other)) expect(fit).toBe('fits');
    else if (withoutSign(one) !== withoutSign(other)) expect(fit).toBe('differs');
    expect(fitOf(copyClaimed(one), copyOf(one))).toBe('fits');
  });
});

test('a verdict on an object of the platform can be written as JSON', () => {
  const { store } = record(new URL('http://archive.example/frames'));
  const { verdict } = failure(once(call(store, [new URL('http://archive.example/stars')])));
  expect(JSON.stringify(verdict)).toContain('http://archive.example/stars');
});
