import { EventEmitter, once as eventOf } from 'node:events';
import { Readable } from 'node:stream';
import { concat, defer, interval, map, type Observable, of, Subject, take, throwError } from 'rxjs';
import { describe, expect, test } from 'vitest';
import { firstLine } from '../../tests/failure.ts';
import { never, once, times } from '../claim/count.ts';
import { exactItems } from '../claim/exact-items.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import { inTurn } from '../claim/order/steps.ts';
import type { Ledger } from '../ledger/ledger.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { withLedger } from '../ledger/with-ledger.ts';
import { missing } from '../match/absence.ts';
import { identical } from '../match/identical.ts';
import { about } from '../match/numbers.ts';
import { call } from '../pattern/call.ts';
import { completed, failed, item } from '../pattern/streams.ts';
import { summary } from '../report/summary.ts';
import { check } from '../wait/check.ts';
import { reach } from '../wait/reach.ts';

const wet = new Error('the sensor is wet');
const turn = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

async function* readings(...values: readonly (number | Error)[]): AsyncGenerator<number> {
  for (const value of values) {
    if (value instanceof Error) throw value;
    yield value;
  }
}

/** A source that calls what it is given, and knows no end. */
function emitting(...values: readonly number[]) {
  return (emit: (value: number) => void) => {
    for (const value of values) emit(value);
    return () => {};
  };
}

/** A source made by hand that gives its observer whatever it is told to. */
function source(give: (observer: { next(value: number): void; error(reason: unknown): void; complete(): void }) => unknown) {
  return { subscribe: give };
}

describe('a source is followed', () => {
  const stream = (values: readonly number[], failure?: Error) =>
    new ReadableStream<number>({
      start(controller) {
        for (const value of values) controller.enqueue(value);
        if (failure === undefined) controller.close();
        else controller.error(failure);
      },
    });
  const store = (...values: number[]) => ({
    subscribe(callback: (value: number) => void) {
      for (const value of values) callback(value);
      return () => {};
    },
  });
  const node = (...values: number[]) => Readable.from(values);

  /** Each with the items it is to give, and how it ends. */
  const [failing, halves] = [throwError(() => wet), interval(1).pipe(map((at) => at / 2))];
  const sources: Readonly<Record<string, readonly [() => unknown, readonly unknown[], 'completed' | 'failed' | 'open']>> = {
    'an async generator': [() => readings(0, 0.4), [0, 0.4], 'completed'],
    'an async generator that fails': [() => readings(0, wet), [0], 'failed'],
    'one that gives nothing': [() => readings(), [], 'completed'],
    'an iterator whose next throws': [() => ({ [Symbol.asyncIterator]: () => ({ next: () => fail() }) }), [], 'failed'],
    'one that cannot be iterated': [() => ({ [Symbol.asyncIterator]: () => fail() }), [], 'failed'],
    'a ReadableStream': [() => stream([0, 0.4]), [0, 0.4], 'completed'],
    'a branch of a stream': [() => stream([0, 0.4]).tee()[0], [0, 0.4], 'completed'],
    'a stream that fails': [() => stream([], wet), [], 'failed'],
    'a stream of Node': [() => node(0, 0.4), [0, 0.4], 'completed'],
    'an observable': [() => of(0, 0.4), [0, 0.4], 'completed'],
    'an observable that fails later': [() => concat(of(0), failing), [0], 'failed'],
    'an observable that throws when it is subscribed to': [() => defer(() => fail()), [], 'failed'],
    'an observable that takes its time': [() => halves.pipe(take(3)), [0, 0.5, 1], 'completed'],
    'one that never emits': [() => new Subject(), [], 'open'],
    'an observer’s source': [() => source(({ next, complete }) => [next(0), next(1), complete()]), [0, 1], 'completed'],
    'one that throws in subscribe': [() => source(() => fail()), [], 'failed'],
    'one that throws once it has emitted': [() => source(({ next }) => [next(0), fail()]), [0], 'failed'],
    'one that takes three functions': [
      () => ({ subscribe: (next: (n: number) => void, _: unknown, done: () => void) => [next(0), done()] }),
      [0],
      'completed',
    ],
    'a store that takes a callback': [() => store(0, 0.4), [0, 0.4], 'open'],
    'a store that is an observable by agreement': [
      () => ({ ...store(7), '@@observable': () => source((given) => [given.next(0), given.complete()]) }),
      [0],
      'completed',
    ],
    'a function of emit': [() => emitting(0, 1), [0, 1], 'open'],
    'a function that throws': [() => () => fail(), [], 'failed'],
  };
  test.each(Object.entries(sources))('%s', async (_, [make, items, how]) => {
    // Strictly, a claim on what never did anything proves nothing.
    const ledger = openLedger({ name: 'streams', rules: items.length === 0 && how === 'open' ? 'usual' : 'strict' });
    const rain = ledger.follow(make() as AsyncIterable<unknown>, 'rain');
    if (how === 'open') await turn();
    else await reach(once(how === 'completed' ? completed(rain) : failed(rain, wet)));
    check(exactItems(rain, items), nothingElse(rain));
    check(how === 'completed' ? never(failed(rain)) : never(completed(rain)), times(items.length as 0, item(rain)));
    expect(rain.items).toEqual(items);
    ledger.close();
  });

  function fail(): never {
    throw wet;
  }

  test.each([
    ['an event target', new EventTarget(), (target: EventTarget) => target.dispatchEvent(new Event('stop'))],
    ['an emitter', new EventEmitter(), (target: EventEmitter) => target.emit('stop', 'parked')],
  ])('%s, by the name of an event', (_, target, emit) => {
    const ledger = openLedger();
    const stops = ledger.follow(target as EventTarget, 'stops', { event: 'stop' });
    (emit as (target: unknown) => void)(target);
    check(times(1, item(stops)));
    expect(stops.items[0]).toEqual(target instanceof EventTarget ? expect.any(Event) : 'parked');
    check(exactItems(stops, [identical(stops.items[0])]));
    ledger.close();
    (emit as (target: unknown) => void)(target);
    expect(ledger.entries()).toHaveLength(1);
  });

  test('several values of one event are a list', async () => {
    const emitter = new EventEmitter();
    const ledger = openLedger();
    const moves = ledger.follow(emitter, 'moves', { event: 'move' });
    const heard = eventOf(emitter, 'move');
    emitter.emit('move', 83.6, 22);
    check(exactItems(moves, [[about(83.6), 22]]));
    await heard;
  });

  const refused: readonly [string, unknown, unknown, RegExp][] = [
    ['a list', [1, 2], undefined, /takes an async iterable.*and was given \[1, 2\]\. Values that already exist need no following/],
    ['nothing', undefined, undefined, /takes an async iterable.*was given undefined/],
    ['an emitter without the name of an event', new EventEmitter(), undefined, /which event\? Write follow\(source, 'name', \{ event: 'data' \}\)/],
    ['an event that is not a name', new EventTarget(), { event: 5 }, /the event's name must be a string, not 5/],
    ['an event of what has none', {}, { event: 'stop' }, /takes an event target or an emitter/],
  ];
  test.each(refused)('refuses %s', (_, given, on, message) => {
    expect(() => openLedger().follow(given as never, 'rain', on as never)).toThrow(message);
  });

  test('refuses a stream that somebody reads, and tells how to share it', () => {
    const read = stream([1]);
    read.getReader();
    expect(() => openLedger().follow(read, 'rain')).toThrow(/the stream is locked.*stream\.tee\(\)/);
  });
});

describe('a subscription', () => {
  test('lasts as long as the ledger, and is ended in every way a source may offer', async () => {
    const ended: string[] = [];
    const ledger = openLedger();
    const note = (what: string) => () => void ended.push(what);
    const subject = new Subject<number>();
    ledger.follow(subject, 'subject');
    ledger.follow(() => note('stop'), 'emit');
    ledger.follow({ subscribe: () => ({ unsubscribe: note('unsubscribe') }) }, 'object');
    ledger.follow({ subscribe: () => note('function') }, 'callback');
    const generator = (async function* () {
      try {
        yield 1;
        yield await new Promise<number>(() => {});
      } finally {
        ended.push('generator');
      }
    })();
    ledger.follow({ [Symbol.asyncIterator]: () => ({ next: () => generator.next(), return: () => generator.return(undefined) }) }, 'endless');
    ledger.follow(new ReadableStream({ cancel: note('cancel') }), 'stream');
    await turn();
    expect([subject.observed, ended]).toEqual([true, []]);
    ledger.close();
    await turn();
    expect(subject.observed).toBe(false);
    // A generator that awaits can only be returned from once that is over.
    expect(ended.toSorted()).toEqual(['cancel', 'function', 'stop', 'unsubscribe']);
  });

  test('that says something more when it is ended is heard', () => {
    const ledger = openLedger({ rules: 'strict' });
    const rain = ledger.follow<string>((emit) => () => emit('bye'), 'rain');
    ledger.atClose(exactItems(rain, ['bye']));
    ledger.close();
    expect(rain.items).toEqual(['bye']);
  });

  test('that cannot be ended is a finding, and the others are ended all the same', () => {
    const ledger = openLedger();
    let isEnded = false;
    ledger.follow(
      () => () => {
        isEnded = true;
      },
      'rain',
    );
    ledger.follow(
      () => () => {
        throw wet;
      },
      'wind',
    );
    expect(() => ledger.close()).toThrow('the stream wind could not be ended: new Error("the sensor is wet")');
    expect(isEnded).toBe(true);
  });

  test('of a source that always has one more lets others run', async () => {
    const ledger = openLedger({ callSites: 0 });
    const endless = (async function* () {
      for (let at = 0; ; at++) yield at;
    })();
    const counts = ledger.follow(endless, 'counts');
    await turn();
    await turn();
    ledger.close();
    const { length } = counts.items;
    expect(length).toBeGreaterThan(500);
    await turn();
    await turn();
    expect(counts.items).toHaveLength(length);
  });
});

describe('items, end and failure', () => {
  test('are entries with a place of their own among the calls, from where they were emitted', () => {
    const ledger = openLedger({ name: 'rain' });
    const { dome } = ledger.standIns<{ dome: { close(): void } }>();
    const subject = new Subject<number>();
    const rain = ledger.follow(subject, 'rain');
    subject.next(0.4);
    dome.close();
    subject.complete();
    check(inTurn(item(rain, 0.4), call(dome.close), completed(rain)));
    expect(ledger.entries()[0]).toMatchObject({
      label: 'rain',
      kind: 'item',
      args: [0.4],
      began: 1,
      site: { file: expect.stringMatching(/follow\.test\.ts$/) },
    });
    expect(summary(rain)).toMatch(/^rain in ledger "rain" · 2 entries\n\ncalls\n {2}#1 {3}item rain with 0\.4.*\n {2}#3 {3}completed rain/);
    expect(() => check(inTurn(call(dome.close), item(rain)))).toThrow(
      /(#2 dome\.close .* came too late: expected before #1 rain|#1 rain .* came too early: expected after #2 dome\.close)[\s\S]*■ item 0\.4/,
    );
  });

  test('that come after the end are recorded, and no exact claim holds with them', () => {
    const ledger = openLedger();
    const rain = ledger.follow<number>(
      source(({ next, complete }) => [next(0), complete(), next(9)]),
      'rain',
    );
    check(exactItems(rain, [0, 9]));
    expect(() => check(exactItems(rain, [0]))).toThrow(
      /^#3 rain .*: \[1\] expected nothing, received 9; 2 items, expected 1; then it ended \(#2\)\n/,
    );
  });

  test('are compared one by one, and the first that differs is named', () => {
    const ledger = openLedger();
    const rain = ledger.follow(emitting(0, 0.2, 7), 'rain');
    const message = (items: readonly number[]) => firstLine(exactItems(rain, items)).replace(/ \(.*?:\d+\)/, '');
    check(exactItems(rain, [0, 0.2, 7]));
    expect(message([0, 0.4, 7])).toBe('#2 rain: [1] expected 0.4, received 0.2');
    expect(message([0, 7])).toBe('#2 rain: [1] expected nothing, received 0.2; 3 items, expected 2');
    expect(message([0, 0.2, 7, 8])).toBe('rain: [3] expected 8, received nothing; 3 items, expected 4');
  });

  test('end a wait for what cannot come any more', async () => {
    const ledger = openLedger();
    const rain = ledger.follow(readings(0, 1), 'rain');
    const first = await reach(once(item(rain, 5)), { within: 60_000 }).catch((error: Error) => error.message.split('\n')[0]);
    expect(first).toMatch(/^item rain with 5 never came; there are 2 items of rain; stopped after \d+ ms: no later call can change that$/);
    await expect(reach(exactItems(rain, [0, 1, 2]), { within: 60_000 })).rejects.toThrow('2 items, expected 3; then it ended (#3)');
  });

  test('cannot be called, and patterns of them are for streams alone', () => {
    const ledger = openLedger();
    const rain = ledger.follow(readings(), 'rain');
    expect(() => call(rain as never)).toThrow(
      'call() was given the stream rain, which is not called. Write item(rain), completed(rain) or failed(rain).',
    );
    expect(() => item({} as never)).toThrow('item() takes a stream that a ledger follows, and was given {}');
    expect(() => exactItems(rain, 5 as never)).toThrow('exactItems(rain, …) takes a list of items, and was given 5. Write exactItems(rain, [5]).');
    expect(`${rain}`).toBe('[stream rain]');
  });
});

test('an item that did not come is none, whatever its matcher accepts', () => {
  const ledger = openLedger({ rules: 'loose' });
  const rain = ledger.follow<number>(() => () => {}, 'rain');
  expect(() => check(exactItems(rain, [missing as never]))).toThrow(/ 1 {2}items of rain are \[missing\]\n +0 items, expected 1/);
});

test('an item names the line of the program, however many operators of a package stand between', () => {
  const ledger = openLedger({ rules: 'loose' });
  const readings = new Subject<number>();
  const steps = Array.from({ length: 12 }, () => map((value: number) => value));
  const rain = ledger.follow(
    steps.reduce<Observable<number>>((source, step) => source.pipe(step), readings),
    'rain',
  );
  readings.next(0.4);
  readings.complete();
  const here = ledger.entries(item(rain))[0]?.site;
  expect(here?.file).toMatch(/follow\.test\.ts$/);
  expect(ledger.entries(completed(rain))[0]?.site?.line).toBe((here?.line ?? 0) + 1);
});

test.each([0, 20])('a source whose clean-up fails after %d ms fails the close, or is noted, and ends no process', async (ms) => {
  const readings = {
    [Symbol.asyncIterator]: () => readings,
    next: () => new Promise<never>(() => {}),
    async return() {
      if (ms > 0) await new Promise((later) => setTimeout(later, ms));
      throw new Error('sensor is stuck');
    },
  };
  let ledger: Ledger | undefined;
  const body = withLedger({ rules: 'loose' }, async (given) => {
    ledger = given;
    given.follow(readings as never, 'rain');
  });
  const said = 'the stream rain could not be ended: new Error("sensor is stuck")';
  if (ms === 0) return await expect(body).rejects.toThrow(said);
  await body;
  await new Promise((later) => setTimeout(later, 2 * ms));
  expect(summary(ledger as Ledger)).toContain(said);
});
