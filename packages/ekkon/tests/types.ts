/*
 * What must and must not compile. `npm run types` checks it: an `@ts-expect-error` that no longer errs
 * is an error itself. For each matcher there is a use that compiles, and one that must not.
 */
import {
  about,
  allItems,
  allOf,
  anyOf,
  anyRest,
  anything,
  between,
  type CallPattern,
  call,
  callsBack,
  check,
  completed,
  computes,
  conforms,
  deferred,
  defineMatcher,
  endsWith,
  exactItems,
  failed,
  fulfils,
  gives,
  identical,
  includes,
  instanceOf,
  instances,
  item,
  type Multiplicity,
  missing,
  never,
  not,
  nullish,
  ofSchema,
  once,
  openLedger,
  partial,
  plan,
  reach,
  reads,
  rejects,
  sized,
  startsWith,
  stays,
  suchThat,
  textLike,
  throws,
  times,
  typeOf,
  unordered,
  withLedger,
  writes,
} from 'ekkon';
import * as zod from 'zod';

type Frame = { readonly id: string; readonly seconds: number };
type Exposure = { seconds: number; filter?: 'red' | 'clear'; at?: { ra: number; dec: number } };
class Gauge {
  celsius = 1;
}
interface Devices {
  camera: { expose(exposure: Exposure): Promise<Frame>; cool(to: number): void; name?(text: string): void };
  mount: {
    on(event: 'stop', then: (ok: boolean) => void): void;
    on(event: 'fault', then: (reason: Error) => void): void;
    slewTo(ra: number, dec: number, how?: { slow: boolean }): Promise<void>;
  };
  archive: {
    store(frame: Frame): Promise<string>;
    storeAll(frames: readonly Frame[]): void;
    index<K extends string, V>(entries: Map<K, V>): V;
    since(when: Date, size: bigint): void;
    read(gauge: Gauge): void;
    label(text: string | undefined): void;
  };
  log: { write(line: string, ...more: unknown[]): void; tags(first: number, ...more: string[]): void };
  done: (id: string) => boolean;
}

const ledger = openLedger();
const { camera, mount, archive, log } = ledger.standIns<Devices>();
const done = ledger.callable<Devices['done']>('done');

// Overloads, optional and rest parameters, generics, members that may be missing.
call(mount.on, ['stop', anything]);
call(mount.on, ['fault', typeOf('function')]);
call(mount.slewTo, [1, 2]);
call(mount.slewTo, [1, about(2), { slow: true }]);
call(mount.slewTo, [1, anyRest]);
call(log.write, ['a', 1, { b: 2 }]);
call(log.write, [anyRest]);
call(log.tags, [1, 'a', startsWith('b'), anyRest]);
call(archive.index, [anything]);
call(camera.name, ['deep sky']);
call(done, [textLike(/x/)]);
// @ts-expect-error no overload takes this
call(mount.on, ['rain', anything]);
// @ts-expect-error too few arguments
call(mount.slewTo, [1]);
// @ts-expect-error too many arguments
call(mount.slewTo, [1, 2, { slow: true }, 4]);
// @ts-expect-error the rest comes last
call(mount.slewTo, [anyRest, 2]);
// @ts-expect-error a rest argument of the wrong type
call(log.tags, [1, 2]);
// @ts-expect-error a nested field of the wrong type
call(camera.expose, [{ seconds: '30' }]);
// @ts-expect-error a field that is not there
call(camera.expose, [{ seconds: 30, secnods: 1 }]);
// @ts-expect-error a member that may be missing is checked as well
call(camera.name, [5]);

// Each matcher where it belongs, and where it does not.
call(camera.expose, [{ seconds: about(30), at: { ra: between(0, 24), dec: anything } }]);
// @ts-expect-error about is for numbers
call(done, [about(3)]);
// @ts-expect-error between is for its own kind
call(archive.since, [between(1, 2), 3n]);
call(archive.since, [between(new Date(1), new Date(2)), between(1n, 2n)]);
// @ts-expect-error bounds of two kinds
between(1, 2n);
// @ts-expect-error texts only
call(camera.cool, [textLike(/x/)]);
// @ts-expect-error texts only
call(camera.cool, [startsWith('a')]);
// @ts-expect-error texts only
call(camera.cool, [endsWith('a')]);
call(done, [endsWith('a')]);
// @ts-expect-error no such type
typeOf('text');
// @ts-expect-error another type
call(camera.cool, [typeOf('string')]);
call(archive.read, [instanceOf(Gauge)]);
// @ts-expect-error another class
call(archive.read, [instanceOf(Date)]);
// @ts-expect-error no class
instanceOf('Gauge');
call(camera.cool, [identical(5)]);
// @ts-expect-error another type
call(camera.cool, [identical('5')]);
call(done, [anyOf('a', startsWith('b'))]);
// @ts-expect-error another type
call(done, [anyOf(1, 2)]);
call(archive.label, [nullish]);
// @ts-expect-error neither null nor undefined is possible here
call(camera.cool, [nullish]);
call(archive.store, [suchThat((frame: Frame) => frame.seconds > 3, 'a long one')]);
// @ts-expect-error a predicate for something else
call(archive.store, [suchThat((text: string) => text.length > 3)]);
// @ts-expect-error a predicate says yes or no
suchThat((frame: Frame) => frame.seconds);
call(camera.expose, [partial({ seconds: 30 })]);
// @ts-expect-error an object
partial(3);
call(archive.storeAll, [allItems(partial({ seconds: 30 }))]);
// A member that may be null as well is claimed by what it may hold otherwise.
const heard = ledger.callable<(event: Event, night: { name: string | null }) => void>('heard');
call(heard, [partial({ type: 'click', target: new EventTarget() }), partial({ name: 'first' })]);
call(archive.storeAll, [sized(3)]);
// @ts-expect-error a number
sized('3');
call(archive.storeAll, [unordered([{ id: 'a' }])]);
// @ts-expect-error a list
unordered({ id: 'a' });
call(archive.storeAll, [[{ id: includes('a'), seconds: 3 }, anything]]);
// @ts-expect-error a part, one
includes();
call(camera.expose, [{ seconds: not(3), filter: missing }]);
// @ts-expect-error something to refuse
not();
call(camera.cool, [allOf(about(3), not(4))]);
// @ts-expect-error an item to fit
allItems();
call(archive.store, [ofSchema(zod.object({ id: zod.string() }))]);
// @ts-expect-error a schema
ofSchema({ id: 'string' });
const near = defineMatcher((ra: number) => ({
  prints: `near ${ra}`,
  differences: (at: { ra: number; dec: number }) => (at.ra === ra ? [] : [{ path: [], kind: 'changed' as const }]),
}));
call(camera.expose, [{ seconds: 3, at: near(3) }]);
// @ts-expect-error its own parameter
near('3');
// @ts-expect-error its own type
call(camera.cool, [near(3)]);
// @ts-expect-error a kind of difference
defineMatcher(() => ({ reads: '', differences: () => [{ path: [], kind: 'wrong' }] }));

// Replies hold what the member gives, and take what it is called with.
plan(call(camera.expose), fulfils({ id: 'a', seconds: 1 }), rejects(new Error('cloud')));
plan(
  call(camera.expose),
  computes(async ({ seconds }: Exposure) => ({ id: 'a', seconds })),
);
plan(
  call(camera.expose),
  computes(() => Promise.resolve({ id: 'a', seconds: 1 })),
);
plan(call(done), gives(true), throws(new Error('jammed')));
// @ts-expect-error a reply of the wrong type
plan(call(done), gives(3));
// @ts-expect-error a fulfilment of the wrong type
plan(call(camera.expose), fulfils(3));
const ofNumbers = computes((to: number) => to > 1);
// @ts-expect-error a computation of other arguments
plan(call(done), ofNumbers);
// @ts-expect-error a plan needs a reply
plan(call(done));

// Claims and their ranges.
const ranges: Multiplicity[] = [2, '2..4', '1..*'];
times('2..4', call(done));
// @ts-expect-error half a range
times('2..', call(done));
// @ts-expect-error a pattern is not a claim
check(call(done));
// @ts-expect-error nothing to check
check();
check([once(call(done))]);

// Entries have the member's types.
const [entry] = ledger.entries(call(mount.slewTo));
const ra: number | undefined = entry?.args[0];
const [stored] = ledger.entries(call(archive.store));
const address: string | false = stored?.outcome.state === 'fulfilled' && stored.outcome.value;
// @ts-expect-error functions are made with callable
ledger.standIns<Devices>().done;
const pattern: CallPattern<[id: string], boolean> = call(done);

// Doubles of every kind keep the types.
class Shutter {
  readonly port: string;
  constructor(port: string) {
    this.port = port;
  }
  open(): boolean {
    this.creak();
    return true;
  }
  static list(): string[] {
    return [];
  }
  private creak(): void {}
}
const shutter = ledger.standIn('shutter', Shutter);
call(shutter.open, []);
const MadeShutter = ledger.constructible('Shutter', Shutter);
call(MadeShutter, ['usb']);
call(Shutter.list, []);
plan(call(MadeShutter), gives(new Shutter('usb')));
const port: string | undefined = instances(MadeShutter)[0]?.port;
ledger.standIn<Devices['camera']>('fake', { cool: () => {} });
ledger.takeOver(globalThis, 'fetch');
ledger.observeHidden(shutter, 'creak');
plan(call(mount.slewTo), deferred<void>());
plan(call(mount.on), callsBack([true], { argument: 1 }));
plan(once(call(camera.expose, [partial({ seconds: 30 })])), fulfils({ id: 'f2', seconds: 30 }));
check(conforms(shutter, Shutter), once(writes(shutter, 'port')), never(reads(shutter, 'port')));
void withLedger({ rules: 'loose' }, async (own) => {
  own.standIn('x');
});
openLedger({ rules: { base: 'strict', unplannedCall: 'note' } });
// @ts-expect-error no such member
ledger.takeOver(globalThis, 'fecth');
// @ts-expect-error the real one constructs with a text
call(MadeShutter, [5]);
// @ts-expect-error a fake's member of the wrong type
ledger.standIn<Devices['camera']>('fake', { cool: 5 });
// Streams and waits.
const rain = ledger.follow(
  (async function* () {
    yield 0.4;
  })(),
  'rain',
);
// The platform's streams, typed or not, and what is like them.
const typed: readonly number[] = ledger.follow(new ReadableStream<number>(), 'typed').items;
const untyped = ledger.follow(new ReadableStream({ start: (send) => send.enqueue(0.4) }), 'untyped');
check(exactItems(untyped, [0.4]));
declare const likeOne: { getReader(): { read(): Promise<{ done: boolean; value?: number }>; releaseLock(): void } };
ledger.follow(likeOne, 'like one');
const stops = ledger.follow(new EventTarget(), 'stops', { event: 'stop' });
check(exactItems(rain, [0, about(0.4)]), once(item(rain, about(0.4))), never(item(stops)), once(completed(rain)), never(failed(rain)));
const temperatures = ledger.follow((emit: (celsius: number) => void) => () => emit(1), 'temperatures');
const coldest: number | undefined = temperatures.items[0];
void reach(once(call(done)), { within: 5 }).then(() => stays(never(call(done)), { for: 5 }));
ledger.atClose(once(call(done)));
// @ts-expect-error an item of the wrong type
item(rain, 'wet');
// @ts-expect-error items of the wrong type
exactItems(rain, ['wet']);
// @ts-expect-error a stream, not a member
item(done);
// @ts-expect-error a matcher of the wrong type
item(rain, textLike(/x/));
// @ts-expect-error which event of it
ledger.follow(new EventTarget(), 'stops');
// @ts-expect-error nothing that could be followed
ledger.follow(5, 'rain');
// @ts-expect-error how long
void stays(never(call(done)));
// @ts-expect-error a claim, not a pattern
void reach(call(done));
// @ts-expect-error no such rule
openLedger({ rules: { unusedPlans: 'fail' } });
// @ts-expect-error no such set of rules
openLedger({ rules: 'strcit' });

// Twenty overloads are told apart; beyond that nothing is refused that could be right.
type Overloads<Count extends number, Before extends 0[] = []> = Before['length'] extends Count
  ? unknown
  : ((a: `k${Before['length']}`, b: Before['length']) => `r${Before['length']}`) & Overloads<Count, [...Before, 0]>;
type Overloaded = { twenty: Overloads<20>; more: Overloads<22> };
class Slot {
  readonly name: string;
  constructor(name: string);
  constructor(hour: number, minute: number);
  constructor(name: string | number) {
    this.name = String(name);
  }
}
const { overloaded } = ledger.standIns<{ overloaded: Overloaded }>();
call(overloaded.twenty, ['k0', 0]);
call(overloaded.twenty, ['k19', 19]);
plan(call(overloaded.twenty), gives('r7'));
call(overloaded.more, ['k0', 0]);
call(overloaded.more, ['k21', 21]);
const MadeSlot = ledger.constructible('Slot', Slot);
call(MadeSlot, ['dusk']);
call(MadeSlot, [4, about(30)]);
// @ts-expect-error no overload takes this
call(overloaded.twenty, ['k0', 1]);
// @ts-expect-error no overload gives this
plan(call(overloaded.twenty), gives('r20'));
// @ts-expect-error no constructor takes this
call(MadeSlot, [true]);

// In a part, an instance may stand for a class that it is derived from; data may not be of another type.
class Target {
  add(): void {}
}
class Button extends Target {
  press(): void {}
}
type Pressed = { readonly target: Target; readonly at: Date };
const hears = ledger.callable<(event: Pressed) => void>('hears');
call(hears, [partial({ target: new Button() })]);
// @ts-expect-error a date is not a number
call(hears, [partial({ at: 5 })]);

// A part of each kind of property: unions, null, dates, what is unknown, records, and parts inside.
interface Parcel {
  readonly id: string | number;
  readonly sealed: boolean;
  readonly lost: Error | null;
  readonly sent: Date | string;
  readonly data: unknown;
  readonly tags: Readonly<Record<string, string>>;
  readonly to: { readonly name: string; readonly floor?: number };
  readonly body: { kind: 'text'; text: string } | { kind: 'bytes'; size: number };
}
const post = ledger.callable<(parcel: Parcel) => void>('post');
call(post, [partial({ id: 4, sealed: true, lost: null, sent: new Date(0), data: [1], tags: { a: 'b' } })]);
call(post, [partial({ to: { floor: undefined }, body: { kind: 'bytes', size: 3 } })]);
call(post, [partial({ to: partial({ name: 'Ada' }), id: anyOf('a', 4), data: anything })]);
// @ts-expect-error a member that there is not
call(post, [partial({ identity: 'q' })]);
// @ts-expect-error a value of another type
call(post, [partial({ sealed: 'yes' })]);
call(post, [suchThat((value: unknown) => typeof value === 'object')]);
call(post, [suchThat((value: { id: string | number }) => value.id !== 0)]);
call(post, [suchThat((value) => typeof value === 'object')]);
call(post, [suchThat(() => true)]);
const query = ledger.callable<{ (table: string): number; raw(sql: string): string }>('query', { members: ['raw'] });
call(query.raw, ['select 1']);
// @ts-expect-error it has no such member
ledger.callable<{ (table: string): number; raw(sql: string): string }>('query', { members: ['row'] });
const placed: { read(): number } = ledger.place(globalThis, 'position', ledger.standIn<{ read(): number }>('position'));
call(placed.read);
type Scale = { weigh(what: string, times?: number): number };
plan(
  call(ledger.standIn<Scale>('scale').weigh),
  computes((what, times) => what.length * (times ?? 1)),
);

export { address, coldest, pattern, port, ra, ranges, typed };

// Of a generic member nothing is refused that could be right: what it takes and gives depends on its call.
interface Log<L extends string = never> {
  child<M extends string = never>(part: { readonly [key: string]: unknown }): Log<M>;
  at(level: L, write: (level: L) => void): void;
}
const { whole, part } = ledger.standIns<{ whole: Log; part: Log }>();
plan(call(whole.child, [{ part: 'dome' }]), gives(part));
type Store = { find<T extends { id: string }>(id: string, make: (row: object) => T): Promise<T> };
const { store } = ledger.standIns<{ store: Store }>();
plan(call(store.find, ['a', typeOf('function')]), fulfils({ id: 'a', size: 4 }));
// @ts-expect-error too many arguments
call(store.find, ['a', typeOf('function'), 3]);
// @ts-expect-error it gives a promise
plan(call(store.find), gives(4));
