import { describe, expect, test } from 'vitest';
import { messageOf, thrownBy } from '../../tests/failure.ts';
import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { inTurn } from '../claim/order/steps.ts';
import { leadsTo } from '../claim/precedence.ts';
import type { Ledger } from '../ledger/ledger.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { withLedger } from '../ledger/with-ledger.ts';
import { identical } from '../match/identical.ts';
import { suchThat } from '../match/such-that.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, rejected, returned, unfinished } from '../pattern/ends.ts';
import { plan } from '../plan/plan.ts';
import { fulfils, gives, passesThrough, stalls } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import { ClaimError } from '../report/claim-error.ts';
import { summary } from '../report/summary.ts';
import { check } from '../wait/check.ts';
import { reach } from '../wait/reach.ts';
import type { RuleName, RuleSet, Rules } from './rules.ts';

interface Devices {
  dome: { open(): void; close(): void };
  mount: { slewTo(ra: number): Promise<void> };
  camera: { expose(exposure: { seconds: number }): void };
}

const sets: readonly RuleSet[] = ['loose', 'usual', 'careful', 'strict'];
const levels = ['allow', 'note', 'fail'] as const;
const [allow, note, fail] = levels;

/** The levels of a rule in the sets, what the report has to name, and what breaks it. */
type Row = readonly [readonly (typeof levels)[number][], RegExp, (ledger: Ledger, doubles: Devices) => unknown];
/** A swallowed check has its own tests below. */
const rules: Readonly<Record<Exclude<RuleName, 'swallowedCheck'>, Row>> = {
  unplannedCall: [
    [allow, allow, allow, fail],
    /(#1 dome\.open\(\) \(.*rules\.test\.ts:\d+\) has no plan|1 unplanned call to dome\.open: #1)/,
    (_, { dome }) => thrownBy(() => dome.open()),
  ],
  unclaimedCall: [
    [allow, allow, allow, fail],
    /#2 dome\.close \(.*rules\.test\.ts:\d+\) is covered by no claim/,
    (_, { dome }) => [dome.open(), dome.close(), check(once(call(dome.open)))],
  ],
  unusedPlan: [
    [allow, note, fail, fail],
    /#1 mount\.slewTo \(.*\): \[0\] expected 1, received 2; plan mount\.slewTo\(1\) fulfils undefined \(.*rules\.test\.ts:\d+\) answered no call/,
    (_, { mount }) => [plan(call(mount.slewTo, [1]), fulfils(undefined)), mount.slewTo(2)],
  ],
  unfinishedCall: [
    [allow, fail, fail, fail],
    /the promise of #1 mount\.slewTo \(.*rules\.test\.ts:\d+\) never settled/,
    (_, { mount }) => [plan(call(mount.slewTo), gives(new Promise<void>(() => {}))), mount.slewTo(1)],
  ],
  uncheckedClaim: [
    [allow, fail, fail, fail],
    /never dome\.open \(.*rules\.test\.ts:\d+\) was never checked/,
    (_, { dome }) => never(call(dome.open)),
  ],
  vacuousClaim: [
    [allow, note, fail, fail],
    /dome\.open never occurred: the claim holds only because of that/,
    (_, { dome }) => check(leadsTo(call(dome.open), call(dome.close))),
  ],
  unawaitedWait: [
    [fail, fail, fail, fail],
    /reach of once dome\.open \(.*rules\.test\.ts:\d+\) was not awaited: it had not come to an end when the test did/,
    (_, { dome }) => void reach(once(call(dome.open))),
  ],
  nothingChecked: [
    [allow, note, fail, fail],
    /1 entry recorded, the first #1 dome\.open \(.*rules\.test\.ts:\d+\), and no claim was checked/,
    (_, { dome }) => dome.open(),
  ],
  alwaysTrueClaim: [
    [allow, fail, fail, fail],
    /times 0\.\.\* dome\.open always holds: no record could break it/,
    (_, { dome }) => [dome.open(), check(times('0..*', call(dome.open)))],
  ],
  changedArgument: [
    [allow, note, note, note],
    /#1 camera\.expose \(.*rules\.test\.ts:\d+\): an argument was changed after the call: \[0\]\.seconds was 30 when recorded, is 60 now/,
    (_, { camera }) => {
      const exposure = { seconds: 30 };
      camera.expose(exposure);
      exposure.seconds = 60;
    },
  ],
  callAfterClose: [
    [allow, note, fail, fail],
    /dome\.open\(\) \(.*rules\.test\.ts:\d+\) came after ledger "ruled" was closed: its test had ended/,
    (ledger, { dome }) => [ledger.close(), dome.open()],
  ],
};

/** What comes of breaking a rule: the error, while it is broken or when the ledger is closed, and the notes. */
function broken(ledger: Ledger, breaks: (ledger: Ledger, doubles: Devices) => unknown, doubleRules?: Rules) {
  const { dome, mount, camera } = ledger.standIns<Devices>(doubleRules === undefined ? {} : { rules: doubleRules });
  const error = thrownBy(() => [breaks(ledger, { dome, mount, camera }), ledger.close()]);
  const codes = error instanceof ClaimError ? error.verdict.findings.map(({ code }) => code) : [];
  const message = error instanceof Error ? error.message : '';
  return { message, codes, notes: /notes\n([\s\S]*?)(\n\n|$)/.exec(summary(ledger))?.[1] ?? '' };
}

describe.each(Object.entries(rules))('rule %s', (name, [ofSets, says, breaks]) => {
  const others = Object.fromEntries(Object.keys(rules).flatMap((other) => (other === name ? [] : [[other, allow]])));
  const asSet: readonly [string, Rules, string | undefined][] = sets.map((set, at) => [`as ${set} has it`, { base: set, ...others }, ofSets[at]]);
  const single: readonly [string, Rules, string][] = levels.map((level) => [`at ${level}`, { ...others, [name]: level }, level]);

  test.each([...asSet, ...single])('is looked at %s', (_, given, level) => {
    const { message, codes, notes } = broken(openLedger({ name: 'ruled', rules: given }), breaks);
    expect([message !== '', notes !== '']).toEqual([level === 'fail', level === 'note']);
    if (level === 'fail') expect(message).toMatch(says);
    if (level === 'note') expect(notes).toMatch(says);
    // What comes late is thrown to its caller: there is nobody else to tell.
    if (level === 'fail' && name !== 'callAfterClose') expect(codes).toEqual([name]);
  });

  test('is looked at as a double has it, whatever its ledger does', () => {
    const strict = openLedger({ name: 'ruled', rules: { ...others, [name]: fail } });
    expect(broken(strict, breaks, { [name]: allow }).message).toBe('');
    const loose = openLedger({ name: 'ruled', rules: 'loose' });
    expect(broken(loose, breaks, { [name]: fail }).message).toMatch(says);
  });
});

test.each(
  Object.entries<[(dome: Devices['mount']) => void, RegExp]>({
    'if its member was never called': [() => {}, /: mount\.slewTo was never called$/],
    'if all calls came before it was written': [
      (mount) => [plan(call(mount.slewTo), fulfils(undefined)), mount.slewTo(1)],
      /: the only call of mount\.slewTo came before it was written$/,
    ],
  }),
)('an unused plan says why it answered no call, %s', (_, [before, says]) => {
  const ledger = openLedger({ rules: { base: 'loose', unusedPlan: 'fail' } });
  const { mount } = ledger.standIns<Devices>();
  before(mount);
  plan(call(mount.slewTo, [1]), fulfils(undefined));
  const [first = ''] = broken(ledger, () => {}).message.split('\n');
  expect(first).toMatch(says);
});

describe('what a rule leaves alone', () => {
  type Real = { slewTo(): Promise<void> };
  const never_: Real = { slewTo: () => new Promise(() => {}) };

  const left: Readonly<Record<string, readonly [Rules, (ledger: Ledger, doubles: Devices) => unknown]>> = {
    'a call that was planned to stall': ['usual', (_, { mount }) => [plan(call(mount.slewTo), stalls()), void mount.slewTo(1)]],
    'a call that settles in a moment': ['usual', (_, { mount }) => [plan(call(mount.slewTo), fulfils(undefined)), void mount.slewTo(1)]],
    'a call that a claim called unfinished': [
      'usual',
      (_, { mount }) => [plan(call(mount.slewTo), gives(new Promise<void>(() => {}))), mount.slewTo(1), check(once(unfinished(call(mount.slewTo))))],
    ],
    'what a real member never settles': ['usual', (ledger) => [ledger.observe(never_, 'slewTo'), void never_.slewTo()]],
    'what a real member that passes through never settles': [
      'usual',
      (ledger) => [ledger.takeOver(never_, 'slewTo'), plan(call(never_.slewTo), passesThrough()), void never_.slewTo()],
    ],
    'a bare pattern': ['usual', (_, { dome }) => call(dome.open)],
    'a claim inside another': [
      'strict',
      (_, { dome }) => [
        plan(once(call(dome.open)), gives(undefined)),
        dome.open(),
        check(during({ from: call(dome.open) }, never(call(dome.close)))),
      ],
    ],
    'a claim at close': [
      'strict',
      (ledger, { dome }) => [plan(call(dome.open), gives(undefined)), ledger.atClose(once(call(dome.open))), dome.open()],
    ],
    'entries that the test looked at': [
      'strict',
      (ledger, { dome }) => {
        plan(call(dome.open), gives(undefined));
        dome.open();
        expect(ledger.entries(call(dome.open))).toHaveLength(1);
      },
    ],
    'what a counted plan answered': ['strict', (_, { dome }) => [plan(times('1..2', call(dome.open)), gives(undefined)), dome.open()]],
    'a counted plan that may go unused': ['strict', (_, { dome }) => plan(times('0..2', call(dome.open)), gives(undefined))],
  };
  test.each(Object.entries(left))('%s', (_, [given, run]) => {
    expect(broken(openLedger({ rules: given }), run).message).toBe('');
  });
});

test('what comes after a claim was judged is not accounted for by it', () => {
  const { message } = broken(openLedger({ rules: { base: 'strict', unplannedCall: 'allow' } }), (_, { dome }) => {
    dome.open();
    check(times('1..*', call(dome.open)));
    dome.open();
  });
  expect(message).toMatch(/^#2 dome\.open .* is covered by no claim/);
});

type Log = Readonly<Record<'write' | 'wirte' | 'clear', (line: string) => void>>;
const written: Readonly<Record<string, readonly [(log: Log) => Claim, RegExp]>> = {
  'with a slip in a text': [
    (log) => never(call(log.write, ['shuter opens'])),
    /^#1 log\.write \(.*\): \[0\] expected "shuter opens", received "shutter opens"; the claim holds only because/,
  ],
  'with a slip in a name': [(log) => never(call(log.wirte)), /^#1 log\.write \(.*\) was called, and log\.wirte never was: is one of them a slip\?/],
  'of another text': [(log) => never(call(log.write, ['shutter closes'])), /^$/],
  'of another name': [(log) => never(call(log.clear)), /^$/],
};
test.each(Object.entries(written))('that a call never came is proved by a claim without slips: one %s', (_, [claimOn, says]) => {
  const log = openLedger({ rules: 'careful' }).standIn<Log>('log');
  log.write('shutter opens');
  expect(messageOf(() => check(claimOn(log)))).toMatch(says);
});

describe('claims at close', () => {
  test('are judged with what comes until then, and count for what is accounted for', () => {
    const ledger = openLedger({ name: 'night' });
    const { dome } = ledger.standIns<Devices>();
    ledger.atClose(once(call(dome.open)), never(call(dome.close)));
    dome.open();
    dome.close();
    expect(() => ledger.close()).toThrow(/^#2 dome\.close\(\) .* is unexpected: 1 call, expected none\n[\s\S]*1 problem at the end of the test/);
    const other = openLedger({ name: 'other' });
    expect(() => other.atClose(once(call(dome.open)))).toThrow('atClose() was given a claim on another ledger: "other" and "night"');
    expect(() => other.atClose(call(dome.open) as never)).toThrow('atClose() was given the bare pattern `dome.open`');
    expect(() => ledger.atClose(once(call(dome.open)))).toThrow('ledger "night" is closed');
  });
});

describe('ways to hold a ledger', () => {
  test('show after a failed body what could explain it, and nothing that only comes of it', async () => {
    const own = new Error('the body failed');
    const told = await withLedger({ rules: 'strict' }, async (ledger) => {
      const { dome, mount, camera } = ledger.standIns<Devices>();
      thrownBy(() => dome.open());
      plan(call(camera.expose, [{ seconds: 30 }]), gives(undefined));
      plan(call(mount.slewTo), gives(new Promise<void>(() => {})));
      void mount.slewTo(1);
      thrownBy(() => camera.expose({ seconds: 60 }));
      plan(call(dome.close), gives(undefined));
      once(call(dome.close));
      void reach(once(call(dome.close)));
      ledger.atClose(once(call(dome.close)));
      throw own;
    }).catch((error: AggregateError) => error);
    const [first, second] = (told as AggregateError).errors as [Error, ClaimError];
    expect(first).toBe(own);
    expect(second.verdict.findings.map(({ code }) => code)).toEqual(['unplannedCall', 'unfinishedCall', 'unplannedCall', 'unusedPlan']);
  });
});

describe('a check that threw and was swallowed', () => {
  const swallowing = (rules: Rules, body: (ledger: Ledger, doubles: Devices) => unknown) =>
    withLedger({ name: 'swallowed', rules }, (ledger) => body(ledger, ledger.standIns<Devices>())).then(
      () => '',
      (error: Error) => error.message.split('\n')[0] ?? '',
    );
  const failing = (dome: Devices['dome']) => once(call(dome.open));

  test.each([
    ['loose', /^$/],
    ['usual', /^a check \(.*rules\.test\.ts:\d+\) failed, and its error was swallowed: once dome\.open: dome\.open was never called/],
  ] as const)('is found if the body passed, under %s', async (rules, said) => {
    expect(await swallowing(rules, (_, { dome }) => thrownBy(() => check(failing(dome))))).toMatch(said);
  });

  const fine: Readonly<Record<string, (ledger: Ledger, doubles: Devices) => unknown>> = {
    'its verdict is read': (_, { dome }) => expect((thrownBy(() => check(failing(dome))) as ClaimError).verdict.holds).toBe(false),
    'the same claims hold later, written anew': (_, { dome }) => [thrownBy(() => check(failing(dome))), dome.open(), check(failing(dome))],
    'they are reached later': async (_, { dome }) => {
      thrownBy(() => check(failing(dome)));
      setTimeout(() => dome.open(), 1);
      await reach(failing(dome));
    },
  };
  test.each(Object.entries(fine))('is fine if %s', async (_, body) => {
    expect(await swallowing('usual', body)).toBe('');
  });

  test('is fine if one place asks until they hold, with new functions each time', async () => {
    const polled = await swallowing('usual', (_, { camera }) => {
      for (let tries = 0; tries < 3; tries++) {
        try {
          check(once(call(camera.expose, [suchThat((exposure: { seconds: number }) => exposure.seconds > 2)])));
          return;
        } catch {
          camera.expose({ seconds: 3 });
        }
      }
    });
    expect(polled).toBe('');
    const other = await swallowing('usual', (_, { camera }) => {
      thrownBy(() => check(once(call(camera.expose, [suchThat(() => false, 'nothing')]))));
      camera.expose({ seconds: 3 });
      check(once(call(camera.expose, [suchThat(() => true, 'anything')])));
    });
    expect(other).toMatch(/^a check .* failed, and its error was swallowed/);
    const order = await swallowing('usual', (_, { dome, camera }) => {
      thrownBy(() => check(inTurn(call(dome.open), call(dome.close))));
      dome.open();
      camera.expose({ seconds: 3 });
      check(inTurn(call(dome.open), call(camera.expose)));
    });
    expect(order).toMatch(/^a check .* failed, and its error was swallowed/);
  });

  test('names the entries that the swallowed check named', async () => {
    const closed = await withLedger({ rules: 'usual' }, async (ledger) => {
      const { dome } = ledger.standIns<Devices>();
      dome.open();
      dome.open();
      thrownBy(() => check(once(call(dome.open))));
    }).catch((error: ClaimError) => error);
    const findings = (closed as ClaimError).verdict.findings.filter(({ code }) => code === 'swallowedCheck');
    expect(findings.map(({ culprits }) => culprits)).toEqual([[2]]);
  });
});

describe('what cannot be told', () => {
  const lost = () => {
    throw new Error('no such star');
  };

  test('a plan of which it is not known whether it fits does not answer, and is a finding', () => {
    const ledger = openLedger({ rules: 'loose' });
    const { camera } = ledger.standIns<Devices>();
    plan(call(camera.expose, [suchThat(lost, 'lost')]), gives(undefined));
    camera.expose({ seconds: 1 });
    expect(() => ledger.close()).toThrow(
      /^#1 camera\.expose .*: cannot tell whether plan camera\.expose\(suchThat\("lost"\)\) gives undefined matches/,
    );
  });

  test('a promise that is not followed says so and why, and is neither fulfilled nor rejected', () => {
    const ledger = openLedger();
    const query = ledger.callable<() => PromiseLike<number>>('query');
    class Lazy extends Promise<number> {}
    plan(call(query), gives(new Lazy(() => {})));
    void query();
    for (const claim of [once(fulfilled(call(query))), never(rejected(call(query)))])
      expect(() => check(claim)).toThrow(/cannot tell for #1 query .*: \.outcome it returned a thenable that may start when it is awaited/);
    expect(() => ledger.entries(fulfilled(call(query)))).toThrow(/cannot tell whether #1 query/);
    check(once(returned(call(query))));
  });

  test('a value at an end is matched as an argument is', () => {
    const ledger = openLedger();
    const frames = ledger.callable<() => object>('frames');
    const frame = { id: 'frame-1' };
    plan(call(frames), gives(frame));
    frames();
    check(once(returned(call(frames), identical(frame))), never(returned(call(frames), identical({ ...frame }))));
  });

  test('entries that throw are refused with the first one, and why', () => {
    const ledger = openLedger();
    const { camera } = ledger.standIns<Devices>();
    camera.expose({ seconds: 1 });
    expect(() => ledger.entries(call(camera.expose, [suchThat(lost, 'lost')]))).toThrow(
      /#1 camera\.expose .* matches: \[0\] it threw Error\("no such star"\) instead of returning true or false/,
    );
  });
});

test('a stand-in answers by the pattern itself, however long it prints', () => {
  const ledger = openLedger({ rules: 'loose' });
  const store = ledger.callable<(text: unknown) => string>('store');
  const long = (end: string) => `${'a'.repeat(400)}${end}`;
  const many = (last: number) => [...Array.from({ length: 30 }, (_, at) => at), last];
  plan(once(call(store, [long('1')])), gives('one'));
  plan(once(call(store, [long('2')])), gives('two'));
  plan(once(call(store, [many(1)])), gives('three'));
  plan(once(call(store, [many(2)])), gives('four'));
  plan(once(call(store, [suchThat((text: unknown) => text === 'x', 'short')])), gives('five'));
  plan(once(call(store, [suchThat((text: unknown) => text === 'y', 'short')])), gives('six'));
  expect([long('2'), long('1'), many(2), many(1), 'y', 'x'].map((text) => store(text))).toEqual(['two', 'one', 'four', 'three', 'six', 'five']);
});

test('a caller that goes on after close, as an interval that was not stopped, is told once', () => {
  const ledger = openLedger({ rules: { callAfterClose: 'fail' } });
  const { dome, mount } = ledger.standIns<Devices>();
  ledger.close();
  const tick = (act: () => unknown) => (thrownBy(act) === undefined ? 'quiet' : 'told');
  const open = () => dome.open();
  expect([open, open, () => mount.slewTo(1), () => dome.open(), open].map(tick)).toEqual(['told', 'quiet', 'told', 'told', 'quiet']);
});
