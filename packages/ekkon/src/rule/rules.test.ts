import { describe, expect, test } from 'vitest';
import {
  account,
  ClaimError,
  call,
  check,
  during,
  fulfils,
  gives,
  type Ledger,
  leadsTo,
  never,
  once,
  openLedger,
  passesThrough,
  plan,
  type RuleName,
  type RuleSet,
  type Rules,
  reach,
  stalls,
  times,
  unfinished,
  withLedger,
} from '../index.ts';

interface Devices {
  dome: { open(): void; close(): void };
  mount: { slewTo(ra: number): Promise<void> };
  camera: { expose(exposure: { seconds: number }): void };
}

const sets: readonly RuleSet[] = ['loose', 'usual', 'strict'];
const levels = ['allow', 'note', 'fail'] as const;
const [allow, note, fail] = levels;

/** Each rule with its levels in the sets, what the report has to name, and what breaks it. */
const rules: readonly [RuleName, readonly (typeof levels)[number][], RegExp, (ledger: Ledger, doubles: Devices) => unknown][] = [
  [
    'unplannedCall',
    [allow, allow, fail],
    /(no plan fits dome\.open\(\) \(.*rules\.test\.ts:\d+\)|1 unplanned call to dome\.open: #1)/,
    (_, { dome }) => swallowed(() => dome.open()),
  ],
  [
    'unclaimedCall',
    [allow, allow, fail],
    /no claim speaks of #2 dome\.close \(.*rules\.test\.ts:\d+\)/,
    (_, { dome }) => {
      dome.open();
      dome.close();
      check(once(call(dome.open)));
    },
  ],
  [
    'unusedPlan',
    [allow, note, fail],
    /plan mount\.slewTo\(1\) fulfils undefined \(.*rules\.test\.ts:\d+\) answered no call; nearest is #1 mount\.slewTo \(.*\): \[0\] claimed 1, recorded 2/,
    (_, { mount }) => {
      plan(call(mount.slewTo, [1]), fulfils(undefined));
      void mount.slewTo(2);
    },
  ],
  [
    'unfinishedCall',
    [allow, fail, fail],
    /the promise of #1 mount\.slewTo \(.*rules\.test\.ts:\d+\) never settled/,
    (_, { mount }) => {
      plan(call(mount.slewTo), gives(new Promise<void>(() => {})));
      void mount.slewTo(1);
    },
  ],
  [
    'uncheckedClaim',
    [allow, fail, fail],
    /never dome\.open \(.*rules\.test\.ts:\d+\) was written and never judged/,
    (_, { dome }) => never(call(dome.open)),
  ],
  [
    'vacuousClaim',
    [allow, note, fail],
    /it holds only because dome\.open never occurred/,
    (_, { dome }) => check(leadsTo(call(dome.open), call(dome.close))),
  ],
  [
    'unawaitedWait',
    [fail, fail, fail],
    /reach of once dome\.open \(.*rules\.test\.ts:\d+\) was not awaited: it had not come to an end when the test did/,
    (_, { dome }) => void reach(once(call(dome.open))),
  ],
  [
    'nothingChecked',
    [allow, note, fail],
    /1 entry recorded, the first #1 dome\.open \(.*rules\.test\.ts:\d+\), and no claim was judged/,
    (_, { dome }) => dome.open(),
  ],
  [
    'changedArgument',
    [allow, note, note],
    /an argument of #1 camera\.expose \(.*rules\.test\.ts:\d+\) was changed after the call: \[0\]\.seconds was 30 when recorded, is 60 now/,
    (_, { camera }) => {
      const exposure = { seconds: 30 };
      camera.expose(exposure);
      exposure.seconds = 60;
    },
  ],
  [
    'callAfterClose',
    [allow, note, fail],
    /dome\.open\(\) came after ledger "ruled" was closed \(.*rules\.test\.ts:\d+\): its test had ended/,
    (ledger, { dome }) => {
      ledger.close();
      dome.open();
    },
  ],
];

function swallowed(run: () => void): void {
  try {
    run();
  } catch {
    // The finding stays, though the code under test goes on.
  }
}

/** What comes of breaking a rule: the error, while it is broken or when the ledger is closed, and the notes. */
function broken(ledger: Ledger, breaks: (ledger: Ledger, doubles: Devices) => unknown, doubleRules?: Rules) {
  const { dome, mount, camera } = ledger.standIns<Devices>(doubleRules === undefined ? {} : { rules: doubleRules });
  let error: unknown;
  try {
    breaks(ledger, { dome, mount, camera });
    ledger.close();
  } catch (thrown) {
    error = thrown;
  }
  const codes = error instanceof ClaimError ? error.verdict.findings.map(({ code }) => code) : [];
  const message = error instanceof Error ? error.message : '';
  return { message, codes, notes: /notes\n([\s\S]*?)(\n\n|$)/.exec(account(ledger))?.[1] ?? '' };
}

describe.each(rules)('rule %s', (name, ofSets, says, breaks) => {
  const others = Object.fromEntries(rules.filter(([other]) => other !== name).map(([other]) => [other, allow]));
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

describe('what a rule leaves alone', () => {
  interface Real {
    slewTo(): Promise<void>;
  }
  const never_: Real = { slewTo: () => new Promise(() => {}) };

  const left: readonly [string, Rules, (ledger: Ledger, doubles: Devices) => unknown][] = [
    ['a call that was planned to stall', 'usual', (_, { mount }) => [plan(call(mount.slewTo), stalls()), void mount.slewTo(1)]],
    ['a call that settles in a moment', 'usual', (_, { mount }) => [plan(call(mount.slewTo), fulfils(undefined)), void mount.slewTo(1)]],
    [
      'a call that a claim called unfinished',
      'usual',
      (_, { mount }) => {
        plan(call(mount.slewTo), gives(new Promise<void>(() => {})));
        void mount.slewTo(1);
        check(once(unfinished(call(mount.slewTo))));
      },
    ],
    ['what a real member never settles', 'usual', (ledger) => [ledger.observe(never_, 'slewTo'), void never_.slewTo()]],
    [
      'what a real member that passes through never settles',
      'usual',
      (ledger) => [ledger.takeOver(never_, 'slewTo'), plan(call(never_.slewTo), passesThrough()), void never_.slewTo()],
    ],
    ['a bare pattern', 'usual', (_, { dome }) => call(dome.open)],
    [
      'a claim inside another',
      'strict',
      (_, { dome }) => [
        plan(once(call(dome.open)), gives(undefined)),
        dome.open(),
        check(during({ from: call(dome.open) }, never(call(dome.close)))),
      ],
    ],
    [
      'a claim at close',
      'strict',
      (ledger, { dome }) => [plan(call(dome.open), gives(undefined)), ledger.atClose(once(call(dome.open))), dome.open()],
    ],
    [
      'entries that the test looked at',
      'strict',
      (ledger, { dome }) => {
        plan(call(dome.open), gives(undefined));
        dome.open();
        expect(ledger.entries(call(dome.open))).toHaveLength(1);
      },
    ],
    ['what a counted plan answered', 'strict', (_, { dome }) => [plan(times('1..2', call(dome.open)), gives(undefined)), dome.open()]],
    ['a counted plan that may go unused', 'strict', (_, { dome }) => plan(times('0..2', call(dome.open)), gives(undefined))],
  ];
  test.each(left)('%s', (_, given, run) => {
    expect(broken(openLedger({ rules: given }), run).message).toBe('');
  });
});

test('what comes after a claim was judged is not accounted for by it', () => {
  const { message } = broken(openLedger({ rules: { base: 'strict', unplannedCall: 'allow' } }), (_, { dome }) => {
    dome.open();
    check(times('1..*', call(dome.open)));
    dome.open();
  });
  expect(message).toMatch(/^rule unclaimedCall: no claim speaks of #2 dome\.open/);
});

describe('claims at close', () => {
  test('are judged with what comes until then, and count for what is accounted for', () => {
    const ledger = openLedger({ name: 'night' });
    const { dome } = ledger.standIns<Devices>();
    ledger.atClose(once(call(dome.open)), never(call(dome.close)));
    dome.open();
    dome.close();
    expect(() => ledger.close()).toThrow(/^never dome\.close: 1 call; the first is #2 dome\.close[\s\S]*closed with 1 finding/);
    const other = openLedger({ name: 'other' });
    expect(() => other.atClose(once(call(dome.open)))).toThrow('atClose() was given a claim on another ledger: "other" and "night"');
    expect(() => other.atClose(call(dome.open) as never)).toThrow('atClose() was given the bare pattern `dome.open`');
    expect(() => ledger.atClose(once(call(dome.open)))).toThrow('ledger "night" is closed');
  });
});

describe('ways to hold a ledger', () => {
  const breaks = (ledger: Ledger) => void once(call(ledger.callable<() => void>('done')));
  const says = /^rule uncheckedClaim: once done \(.*rules\.test\.ts:\d+\) was written and never judged/;

  test('give the same guarantees: using, withLedger and by hand', async () => {
    expect(() => {
      using ledger = openLedger();
      breaks(ledger);
    }).toThrow(says);
    await expect(withLedger(breaks)).rejects.toThrow(says);
    const ledger = openLedger();
    breaks(ledger);
    expect(() => ledger.close()).toThrow(says);
    expect(() => ledger.close()).not.toThrow();
  });

  test('show after a failed body what could explain it, and nothing that only comes of it', async () => {
    const own = new Error('the body failed');
    const told = await withLedger({ rules: 'strict' }, async (ledger) => {
      const { dome, mount, camera } = ledger.standIns<Devices>();
      swallowed(() => dome.open());
      plan(call(camera.expose, [{ seconds: 30 }]), gives(undefined));
      plan(call(mount.slewTo), gives(new Promise<void>(() => {})));
      void mount.slewTo(1);
      swallowed(() => camera.expose({ seconds: 60 }));
      plan(call(dome.close), gives(undefined));
      once(call(dome.close));
      void reach(once(call(dome.close)));
      ledger.atClose(once(call(dome.close)));
      throw own;
    }).catch((error: AggregateError) => error);
    const [first, second] = (told as AggregateError).errors as [Error, ClaimError];
    expect(first).toBe(own);
    expect(second.verdict.findings.map(({ code }) => code)).toEqual(['unplannedCall', 'unplannedCall', 'unusedPlan', 'unfinishedCall']);
  });
});
