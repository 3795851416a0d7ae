import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { claimOf, type HeldClaim } from '../claim/claim.ts';
import { everything } from '../claim/window.ts';
import { judge } from '../explain/judge.ts';
import {
  type Claim,
  ClaimError,
  type Clock,
  call,
  check,
  conforms,
  deferred,
  during,
  either,
  exactItems,
  fulfilled,
  fulfils,
  inAnyOrder,
  inFlight,
  inTurn,
  item,
  leadsTo,
  loop,
  never,
  nothingElse,
  once,
  onlyAfter,
  openLedger,
  optional,
  plan,
  reach,
  rejects,
  type StepLike,
  settled,
  stalls,
  stays,
  times,
  unbroken,
  unfinished,
} from '../index.ts';
import { tied } from '../record/tie.ts';
import { attend } from './attend.ts';

interface Devices {
  dome: { open(): void; close(): void };
  mount: { slewTo(ra: number): Promise<void>; park(): Promise<void> };
}

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
function handClock(): Clock & { pass(ms: number): void } {
  let now = 0;
  const timers = new Set<{ at: number; run: () => void }>();
  return {
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

describe('a claim followed event by event', () => {
  /** Claims on a and b, of which a gives promises, and on a stream. */
  const claimsOn = (parts: ReturnType<typeof played>): readonly Claim[] => {
    const { a, b, rain, ledger } = parts;
    const [begin, other, end] = [call(a), call(b, [1]), fulfilled(call(a))] as [StepLike, StepLike, StepLike];
    return [
      once(call(a, [1])),
      times('2..3', call(b)),
      never(call(a, [0])),
      times('1..2', fulfilled(call(a))),
      never(unfinished(call(a))),
      times(2, unfinished(call(a))),
      inFlight('2..3', call(a)),
      onlyAfter(call(b), call(a)),
      leadsTo(call(b), call(a)),
      leadsTo(call(a), settled(call(a))),
      inTurn(begin, end),
      inTurn(begin, other, optional(end)),
      inTurn(loop('1..*', either(begin, other)), end),
      inTurn(inAnyOrder(begin, other), end),
      inTurn(unbroken(begin, other)),
      during({ from: call(a), until: settled(call(a)) }, never(call(b))),
      during({ from: call(b) }, once(call(a))),
      during({ until: call(b, [0]) }, times('1..*', call(a))),
      exactItems(rain, [0, 1]),
      once(item(rain, 1)),
      nothingElse(ledger),
    ];
  };

  type Move = 'a0' | 'a1' | 'b0' | 'b1' | 'end first' | 'end last' | 'rain 0' | 'rain 1';

  function played() {
    const ledger = openLedger({ callSites: 0, rules: 'loose' });
    const a = ledger.callable<(n: number) => Promise<void>>('a');
    const b = ledger.callable<(n: number) => void>('b');
    let emit: (value: number) => void = () => {};
    const rain = ledger.follow<number>((given) => {
      emit = given;
      return () => {};
    }, 'rain');
    const open: ReturnType<typeof deferred<void>>[] = [];
    const play = async (move: Move) => {
      if (move.startsWith('a')) {
        const reply = deferred<void>();
        plan(call(a), reply);
        open.push(reply);
        void a(Number(move[1]));
      } else if (move.startsWith('b')) b(Number(move[1]));
      else if (move.startsWith('rain')) emit(Number(move[5]));
      else open.splice(move === 'end first' ? 0 : -1, 1)[0]?.fulfil();
      await Promise.resolve();
    };
    return { ledger, a, b, rain, play };
  }

  test('holds exactly where the whole record says so, and does not come back where it is lost', async () => {
    const moves = fc.array(fc.constantFrom<Move>('a0', 'a1', 'b0', 'b1', 'end first', 'end last', 'rain 0', 'rain 1'), { maxLength: 9 });
    await fc.assert(
      fc.asyncProperty(moves, async (made) => {
        const parts = played();
        const record = tied(parts.ledger)?.record;
        if (record === undefined) throw new Error('no record');
        const held = claimsOn(parts).map((claim) => claimOf(claim) as HeldClaim);
        const holds = (claim: HeldClaim) => judge(claim, { record, window: everything, claims: [claim] }) === undefined;
        const attended = held.map((claim) => {
          const attention = attend(claim, record, () => holds(claim));
          // Whoever waits looks when it is told to, and knows nothing else.
          const told = { standing: attention.standing };
          attention.listen(() => {
            told.standing = attention.standing;
          });
          return { claim, told, lost: false };
        });
        for (const move of made) {
          await parts.play(move);
          for (const each of attended) {
            const { claim, told } = each;
            const said = `${claim.notation} after ${made.join(', ')}`;
            expect([said, told.standing === 'holds']).toEqual([said, holds(claim)]);
            each.lost ||= told.standing === 'lost';
            if (each.lost) expect([said, told.standing]).toEqual([said, 'lost']);
          }
        }
      }),
      { numRuns: 400 },
    );
  });
});

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
      /^once dome\.close: 2 calls where 1 claimed; one too many is #3 dome\.close .*; no call to come can change that, after \d+ ms$/,
    );
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
once dome.close: dome.close was never called; of dome only dome.open ×1; waited 500 ms, with #1 mount.slewTo (@) still pending (and 1 more)

waited 500 ms in vain · ledger "a night"

 1  once dome.close
    dome.close was never called.
    called instead: dome.open ×1
    on other doubles: mount.slewTo ×1, mount.park ×1

    still pending:
    #1   mount.slewTo(83)   @   ◂ for 520 ms
    #2   mount.park()       @   ◂ for 500 ms, planned to stall
`);
    expect(error.verdict).toMatchObject({ holds: false, waited: { ended: 'time', after: 500 }, findings: [{ code: 'missingCall' }] });
    expect(error.stack).toMatch(/\n {4}at \S*wait\.test\.ts:\d+:\d+/);
  });

  const refused: readonly [string, (parts: ReturnType<typeof night>) => Promise<void>, RegExp][] = [
    [
      'a claim that can only break',
      ({ dome }) => reach(never(call(dome.open))),
      /`never dome\.open`.* can only break.*stays\(claim, \{ for: 50 \}\)/,
    ],
    ['one with an upper bound alone', ({ dome }) => reach(times('0..2', call(dome.open))), /can only break/],
    ['an order that only forbids', ({ dome }) => reach(onlyAfter(call(dome.close), call(dome.open))), /can only break/],
    ['what nothing else may be', ({ dome }) => reach(nothingElse(dome)), /can only break/],
    ['a double that may only drift', ({ dome }) => reach(conforms(dome, {})), /can only break/],
    ['a pattern', ({ dome }) => reach(call(dome.open) as never), /reach\(\) was given the bare pattern `dome\.open`/],
    ['no claim', () => reach(5 as never), /was given 5, which is no claim/],
    ['no time', ({ dome }) => reach(once(call(dome.open)), { within: -1 }), /within is a number of milliseconds from 0 on, and was given -1/],
    [
      'no time to stay',
      ({ dome }) => stays(never(call(dome.open)), {} as never),
      /for is a number of milliseconds.*given undefined.*Write stays\(claim, \{ for: 50 \}\)/,
    ],
    ['an endless stay', ({ dome }) => stays(never(call(dome.open)), { for: Number.POSITIVE_INFINITY }), /for is a number/],
    ['no time for quiet', ({ ledger }) => ledger.untilQuiet({ within: Number.NaN }), /within is a number/],
    [
      'a closed ledger',
      ({ ledger, dome }) => {
        ledger.close();
        return reach(once(call(dome.open)));
      },
      /ledger "a night" is closed/,
    ],
    ['a clock that is none', () => Promise.resolve(night({ clock: {} as never })).then(() => {}), /clock is \{ now, after \}/],
  ];
  test.each(refused)('refuses %s', async (_, run, message) => {
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
    expect(() => ledger.close()).toThrow(/^once dome\.open: it was reached, and then: 2 calls where 1 claimed[\s\S]*closed with 1 finding/);
  });

  type Slewing = ReturnType<typeof night>['mount'];
  test.each([
    ['their own argument', (mount: Slewing, at: number) => times('1..*', call(mount.slewTo, [at])), (order: readonly number[]) => order],
    [
      'their own count',
      (mount: Slewing, at: number) => times(`${at + 1}..*`, call(mount.slewTo)),
      (order: readonly number[]) => order.toSorted((one, other) => one - other),
    ],
  ])('ten thousand at once come true, each with %s', async (_, claim, expected) => {
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
    expect(firstLine(await broken)).toMatch(/^never dome\.open: 1 call; the first is #1 dome\.open .*; it held for 20 ms$/);
    expect(firstLine(await outcome(stays(once(call(dome.close)), { for: 5 })))).toMatch(
      /^once dome\.close: dome\.close was never called.*it held for 0 ms$/,
    );
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
    expect(firstLine(await waited)).toMatch(/^until quiet: #1 mount\.slewTo \(.*\) is still pending; waited 300 ms$/);
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
    expect(firstLine(await outcome(reach(once(call(dome.open)), { within: 5 })))).toMatch(/waited \d+ ms$/);
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
