import { describe, expect, test } from 'vitest';
import { conforms } from '../claim/conforms.ts';
import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { exactItems } from '../claim/exact-items.ts';
import { inFlight } from '../claim/in-flight.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import { inTurn } from '../claim/order/steps.ts';
import { leadsTo, onlyAfter } from '../claim/precedence.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, unfinished } from '../pattern/ends.ts';
import { completed, item } from '../pattern/streams.ts';
import { deferred } from '../plan/deferred.ts';
import { plan } from '../plan/plan.ts';
import { computes, fulfils, rejects, stalls } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Clock } from '../record/clock.ts';
import { tied } from '../record/tie.ts';
import { ClaimError } from '../report/claim-error.ts';
import { check } from './check.ts';
import { reach } from './reach.ts';
import { stays } from './stays.ts';

type Devices = { dome: { open(): void; close(): void }; mount: { slewTo(ra: number): Promise<void>; park(): Promise<void> } };

function night(options?: Parameters<typeof openLedger>[0]) {
  const ledger = openLedger({ name: 'a night', ...options });
  const { dome, mount } = ledger.standIns<Devices>();
  return { ledger, dome, mount };
}

/** How a promise ended: nothing, or the error's message. */
async function outcome(promise: Promise<unknown>): Promise<string | undefined> {
  return promise.then(
    () => undefined,
    (error: Error) => error.message,
  );
}

const firstLine = (text = '') => text.split('\n')[0];
const turn = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

/** A clock that stands still until it is told to go on. */
function handClock(): Clock & { pass(ms: number): void; readonly timers: ReadonlySet<unknown> } {
  let now = 0;
  const timers = new Set<{ at: number; run: () => void }>();
  return {
    timers,
    now: () => now,
    after(ms, run) {
      const timer = { at: now + ms, run };
      timers.add(timer);
      return () => timers.delete(timer);
    },
    pass(ms) {
      now += ms;
      for (const timer of [...timers]) {
        if (timer.at > now || !timers.delete(timer)) continue;
        timer.run();
      }
    },
  };
}

describe('reach', () => {
  test('is there at once, with the call that makes it true, or as soon as nothing can', async () => {
    const { dome } = night();
    dome.open();
    await reach(once(call(dome.open)));
    const closed = reach(once(call(dome.close)));
    dome.close();
    await closed;
    expect(await outcome(reach(once(call(dome.close)), { within: 0 }))).toBe(undefined);
    dome.close();
    const lost = await outcome(reach(once(call(dome.close)), { within: 60_000 }));
    expect(firstLine(lost)).toMatch(
      /^#3 dome\.close\(\) .* is unexpected: 2 calls, expected once; stopped after \d+ ms: no later call can change that$/,
    );
  });

  const work: readonly [string, (dome: Devices['dome']) => Promise<unknown>, RegExp | undefined][] = [
    ['fulfils as soon as the claim holds', async (dome) => [dome.close(), await new Promise(() => {})], undefined],
    ['rejects with the error of the work', () => Promise.reject(new Error('wind')), /^wind$/],
    ['fails at once if the work ends without it', async (dome) => dome.open(), /^dome\.close was never called; .*; the work ended after \d+ ms\n/],
  ];
  test.each(work)('while there is work, %s', async (_, run, says) => {
    const { dome } = night();
    const message = await outcome(reach(once(call(dome.close)), { within: 60_000, while: run(dome) }));
    expect(message ?? '').toMatch(says ?? /^$/);
  });

  test('lets an error of the work be nobody’s that comes when the claim holds already', async () => {
    const { dome } = night();
    const later = new Promise((_, reject) => setTimeout(() => reject(new Error('too late')), 5));
    const unhandled = new Promise((resolve) => process.once('unhandledRejection', resolve));
    dome.close();
    await reach(once(call(dome.close)), { while: later });
    expect(await unhandled).toMatchObject({ message: 'too late' });
    expect(await outcome(reach(once(call(dome.open)), { while: 5 as never }))).toMatch(/Write reach\(claim, \{ while: run\(\) \}\)\./);
  });

  test('reports what check would, what is pending and for how long, at the line that waits', async () => {
    const clock = handClock();
    const { mount, dome } = night({ clock });
    plan(call(mount.slewTo), deferred());
    plan(call(mount.park), stalls());
    void mount.slewTo(83);
    clock.pass(20);
    void mount.park();
    const waited = reach(once(call(dome.close)), { within: 500 }).catch((error: ClaimError) => error);
    clock.pass(499);
    dome.open();
    clock.pass(1);
    const error = (await waited) as ClaimError;
    expect(error).toBeInstanceOf(ClaimError);
    expect(error.message.replaceAll(/[\w./-]*wait\.test\.ts:\d+/g, '@')).toBe(`\
dome.close was never called; of dome only dome.open ×1; timed out after 500 ms, with #1 mount.slewTo and 1 more still pending

 1  once dome.close
    called instead: dome.open ×1
    on other doubles: mount.slewTo ×1, mount.park ×1

    the last event is #3 dome.open returned (@)
    still pending:
    #1   mount.slewTo(83)   @   ◂ pending for 520 ms
    #2   mount.park()       @   ◂ pending for 500 ms, planned to stall

timed out after 500 ms · ledger "a night"
code: missingCall
`);
    expect(error.verdict).toMatchObject({ holds: false, waited: { ended: 'time', after: 500 }, findings: [{ code: 'missingCall' }] });
    expect(error.stack).toMatch(/\n {4}at \S*wait\.test\.ts:\d+:\d+/);
  });

  const refused: Readonly<Record<string, readonly [(parts: ReturnType<typeof night>) => Promise<void>, RegExp]>> = {
    'a claim that can only break': [
      ({ dome }) => reach(never(call(dome.open))),
      /`never dome\.open`.* can only break.*stays\(claim, \{ for: 50 \}\)/,
    ],
    'one with an upper bound alone': [({ dome }) => reach(times('0..2', call(dome.open))), /can only break/],
    'an order that only forbids': [({ dome }) => reach(onlyAfter(call(dome.close), call(dome.open))), /can only break/],
    'what nothing else may be': [({ dome }) => reach(nothingElse(dome)), /can only break/],
    'a double that may only drift': [({ dome }) => reach(conforms(dome, {})), /can only break/],
    'a pattern': [({ dome }) => reach(call(dome.open) as never), /reach\(\) was given the bare pattern `dome\.open`/],
    'no claim': [() => reach(5 as never), /was given 5, which is not a claim/],
    'no time': [({ dome }) => reach(once(call(dome.open)), { within: -1 }), /within must be a number of milliseconds, 0 or more, not -1/],
    'no time to stay': [
      ({ dome }) => stays(never(call(dome.open)), {} as never),
      /for must be a number of milliseconds.*not undefined.*Write stays\(claim, \{ for: 50 \}\)/,
    ],
    'an endless stay': [({ dome }) => stays(never(call(dome.open)), { for: Number.POSITIVE_INFINITY }), /for must be a number/],
    'no time for quiet': [({ ledger }) => ledger.untilQuiet({ within: Number.NaN }), /within must be a number/],
    'a closed ledger': [
      ({ ledger, dome }) => {
        ledger.close();
        return reach(once(call(dome.open)));
      },
      /ledger "a night" is closed/,
    ],
    'a clock that is none': [() => Promise.resolve(night({ clock: {} as never })).then(() => {}), /clock must be \{ now, after \}/],
  };
  test.each(Object.entries(refused))('refuses %s', async (_, [run, message]) => {
    expect(await outcome((async () => run(night()))())).toMatch(message);
  });

  test('does not take for true what holds for no reason', async () => {
    const { dome } = night();
    const answered = reach(leadsTo(call(dome.open), call(dome.close)));
    let isReached = false;
    void answered.then(() => {
      isReached = true;
    });
    await turn();
    expect(isReached).toBe(false);
    dome.open();
    dome.close();
    await answered;
  });

  test('goes on judging what has an upper bound until the ledger is closed', async () => {
    const { ledger, dome } = night();
    const [exact, open] = [reach(once(call(dome.open))), reach(times('1..*', call(dome.open)))];
    dome.open();
    await Promise.all([exact, open]);
    dome.open();
    expect(() => ledger.close()).toThrow(
      /^it was reached, and then: #2 dome\.open\(\) .* is unexpected: 2 calls, expected once\n[\s\S]*1 problem at the end of the test/,
    );
  });

  type Slewing = ReturnType<typeof night>['mount'];
  type Told = (order: readonly number[]) => readonly number[];
  const claims: Readonly<Record<string, [(mount: Slewing, at: number) => Claim, Told]>> = {
    'their own argument': [(mount, at) => times('1..*', call(mount.slewTo, [at])), (order) => order],
    'their own count': [(mount, at) => times(`${at + 1}..*`, call(mount.slewTo)), (order) => order.toSorted((one, other) => one - other)],
  };
  test.each(Object.entries(claims))('ten thousand at once come true, each with %s', async (_, [claim, expected]) => {
    const many = 10_000;
    const { mount } = night({ callSites: 0 });
    const reached: number[] = [];
    const waits = Array.from({ length: many }, (_each, at) => reach(claim(mount, at), { within: 60_000 }).then(() => reached.push(at)));
    await turn();
    const order = Array.from({ length: many }, (_each, at) => (at * 7_919) % many);
    for (const at of order) void mount.slewTo(at);
    await Promise.all(waits);
    expect(reached).toEqual(expected(order));
  });
});

describe('a wait leaves nothing behind', () => {
  test('its timer is cancelled, and nobody is told of events any more', async () => {
    const clock = handClock();
    const { ledger, dome, mount } = night({ clock });
    dome.open();
    await Promise.all([reach(times('1..*', call(dome.open))), reach(once(call(dome.open)))]);
    const waiting = [
      reach(times('1..*', call(mount.park))),
      reach(inTurn(call(dome.open), call(mount.park))),
      stays(never(call(dome.close)), { for: 5 }),
    ];
    expect(clock.timers.size).toBe(3);
    expect(tied(ledger)?.journal.hearing).toBeDefined();
    void mount.park();
    clock.pass(5);
    await Promise.all(waiting);
    expect(clock.timers.size).toBe(0);
    // Claims with an upper bound are judged until the ledger is closed, and no longer.
    ledger.close();
    expect(tied(ledger)?.journal.hearing).toBeUndefined();
    const other = night({ clock });
    const open = reach(times('1..*', call(other.dome.open)));
    other.dome.open();
    await open;
    await reach(times('1..*', call(other.dome.open)));
    expect(tied(other.ledger)?.journal.hearing).toBeUndefined();
  });

  test('one that ends takes nothing from others that wait for the same count', async () => {
    const clock = handClock();
    const { dome } = night({ clock });
    const waits = [10, 20, 30].map((within) => outcome(reach(times('2..*', call(dome.open)), { within })));
    clock.pass(10);
    expect(firstLine(await waits[0])).toMatch(/timed out after 10 ms$/);
    dome.open();
    dome.open();
    expect(await Promise.all(waits.slice(1))).toEqual([undefined, undefined]);
  });

  test('a claim that was reached accounts for what its range allows later, before the ledger is closed', async () => {
    const ledger = openLedger({ rules: 'loose' });
    const { dome, mount } = ledger.standIns<{ dome: { open(): void; close(): void }; mount: { park(): void } }>();
    dome.open();
    await reach(times('1..3', call(dome.open)));
    check(nothingElse(dome));
    dome.open();
    check(nothingElse(dome));
    mount.park();
    await reach(during({ from: call(mount.park) }, once(call(dome.close))), { while: Promise.resolve(dome.close()) });
    check(nothingElse(dome));
    dome.close();
    check(nothingElse(dome));
    expect(() => ledger.close()).toThrow(/it was reached, and then: #5 dome\.close/);
  });

  test('what was unfinished when it was reached may end, and what came within the bounds is accounted for', async () => {
    const { ledger, mount, dome } = night({ rules: { base: 'strict', unplannedCall: 'allow' } });
    const slewed = deferred();
    plan(call(mount.slewTo), slewed);
    void mount.slewTo(1);
    await reach(once(unfinished(call(mount.slewTo))));
    slewed.fulfil();
    await reach(once(fulfilled(call(mount.slewTo))));
    const opened = reach(times('1..3', call(dome.open)));
    dome.open();
    await opened;
    dome.open();
    ledger.close();
  });
});

test('it is quiet as soon as the last call ends, though no time passes', async () => {
  const { ledger, mount } = night({ clock: handClock() });
  const parked = deferred<void>();
  plan(call(mount.park), parked);
  void mount.park();
  const quiet = ledger.untilQuiet().then(() => 'quiet');
  await turn();
  parked.fulfil();
  expect(await Promise.race([quiet, turn().then(turn).then(turn)])).toBe('quiet');
});

describe('what can no longer come true fails at once', () => {
  const ended = async () => {
    const { ledger, dome } = night();
    let emit: (value: number) => void = () => {};
    const rain = ledger.follow<number>((given) => {
      emit = given;
      return () => {};
    }, 'rain');
    const over = ledger.follow(
      (async function* () {
        yield 1;
      })(),
      'over',
    );
    await reach(once(completed(over)));
    return { ledger, dome, rain, over, emit: (value: number) => emit(value) };
  };

  const hopeless: Readonly<Record<string, (parts: Awaited<ReturnType<typeof ended>>) => Promise<void>>> = {
    'an item of a stream that is over': ({ over }) => reach(once(item(over, 2)), { within: 60_000 }),
    'a sequence with such an item': ({ over, dome }) => reach(inTurn(item(over, 2), call(dome.open)), { within: 60_000 }),
    'what such an item was to lead to': ({ over }) => reach(leadsTo(item(over, 1), item(over, 2)), { within: 60_000 }),
    'a stretch that begins with one': ({ over, dome }) => reach(during({ from: item(over, 2) }, once(call(dome.open))), { within: 60_000 }),
    'a stretch in which one was to come': ({ over, dome }) =>
      [dome.open(), reach(during({ from: call(dome.open) }, once(item(over))), { within: 60_000 })][1] as Promise<void>,
    'items that are too few': ({ over }) => reach(exactItems(over, [1, 2]), { within: 60_000 }),
    'an item that differs': ({ rain, emit }) => {
      const waiting = reach(exactItems(rain, [0, 1]), { within: 60_000 });
      emit(2);
      return waiting;
    },
    'more in flight than claimed as a stretch begins': ({ dome }) => {
      let deep = 0;
      plan(
        call(dome.close),
        computes(() => (++deep < 2 ? dome.close() : dome.open())),
      );
      const waiting = reach(during({ from: call(dome.open) }, inFlight('1..1', call(dome.close))), { within: 60_000 });
      dome.close();
      return waiting;
    },
  };
  test('and nothing that still can, though a stream is over', async () => {
    const { dome, over } = await ended();
    const within = { within: 60_000 };
    const stretch = reach(during({ from: call(dome.open), until: item(over, 2) }, once(call(dome.close))), within);
    const answer = outcome(reach(leadsTo(call(dome.open), item(over, 2)), within));
    const early = await Promise.race([stretch, answer, turn().then(() => 'both wait')]);
    dome.open();
    expect([early, firstLine(await answer)]).toEqual(['both wait', expect.stringMatching(/no later call can change that$/)]);
    dome.close();
    await stretch;
  });

  test.each(Object.entries(hopeless))('%s', async (_, wait) => {
    expect(firstLine(await outcome(wait(await ended())))).toMatch(/; stopped after \d+ ms: no later call can change that$/);
  });

  test('a claim that holds only because something never occurred is not reached, also not when the time is over', async () => {
    const clock = handClock();
    const { dome } = night({ clock, rules: 'loose' });
    const waiting = outcome(reach(leadsTo(call(dome.open), call(dome.close)), { within: 10 }));
    clock.pass(10);
    expect(firstLine(await waiting)).toMatch(/^dome\.open never occurred: the claim holds only because of that; timed out after 10 ms$/);
  });
});

describe('stays', () => {
  test('holds until the time is over, and rejects with the call that breaks it', async () => {
    const clock = handClock();
    const { dome } = night({ clock });
    const kept = outcome(stays(never(call(dome.open)), { for: 50 }));
    clock.pass(50);
    expect(await kept).toBe(undefined);
    // What was to stay for that long may be over after it.
    const other = night({ clock });
    const stayed = stays(never(call(other.dome.open)), { for: 1 });
    clock.pass(1);
    await stayed;
    other.dome.open();
    other.ledger.close();
    const broken = outcome(stays(never(call(dome.open)), { for: 50 }));
    clock.pass(20);
    dome.open();
    expect(firstLine(await broken)).toMatch(/^#1 dome\.open\(\) .* is unexpected: 1 call, expected none; it held for 20 ms$/);
    expect(firstLine(await outcome(stays(once(call(dome.close)), { for: 5 })))).toMatch(/^dome\.close was never called.*it held for 0 ms$/);
  });
});

describe('quiet', () => {
  test('is there when nothing is pending, nor what came of it, and does not wait for what stalls', async () => {
    const { ledger, mount } = night();
    await ledger.untilQuiet();
    plan(call(mount.park), stalls());
    plan(call(mount.slewTo), fulfils(undefined), rejects(new Error('wind')), fulfils(undefined));
    void mount.park();
    const chain = (async () => {
      await mount.slewTo(1);
      await mount.slewTo(2).catch(() => {});
      await mount.slewTo(3);
    })();
    await ledger.untilQuiet();
    check(times(3, call(mount.slewTo)));
    await chain;
  });

  test('names what does not become quiet', async () => {
    const clock = handClock();
    const { ledger, mount } = night({ clock });
    plan(call(mount.slewTo), deferred());
    void mount.slewTo(1);
    const waited = outcome(ledger.untilQuiet({ within: 300 }));
    clock.pass(300);
    expect(firstLine(await waited)).toMatch(/^#1 mount\.slewTo \(.*\) is still pending; timed out after 300 ms$/);
  });
});

test('waits go on though time is faked or stands still for the code under test', async () => {
  const { setTimeout: timer, clearTimeout: clear, queueMicrotask: micro } = globalThis;
  const { now } = performance;
  const frozen = () => 0 as never;
  Object.assign(globalThis, { setTimeout: frozen, clearTimeout: frozen, queueMicrotask: frozen });
  performance.now = () => 0;
  try {
    const { ledger, dome } = night();
    expect(firstLine(await outcome(reach(once(call(dome.open)), { within: 5 })))).toMatch(/timed out after \d+ ms$/);
    await stays(never(call(dome.open)), { for: 1 });
    await ledger.untilQuiet();
  } finally {
    Object.assign(globalThis, { setTimeout: timer, clearTimeout: clear, queueMicrotask: micro });
    performance.now = now;
  }
});

test('what a deferred reply settles is never recorded in the turn of its call', async () => {
  const { ledger, mount } = night();
  const slewed = deferred();
  plan(call(mount.slewTo), slewed);
  void mount.slewTo(1);
  slewed.fulfil();
  expect(ledger.entries()[0]?.outcome).toEqual({ state: 'pending' });
  await Promise.resolve();
  expect(ledger.entries()[0]).toMatchObject({ outcome: { state: 'fulfilled' }, began: 1, ended: 2 });
  void mount.slewTo(2);
  expect(ledger.entries()[1]?.outcome).toEqual({ state: 'pending' });
});
