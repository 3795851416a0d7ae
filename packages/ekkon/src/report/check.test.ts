import { serialize } from 'node:v8';
import { describe, expect, test } from 'vitest';
import { failure, holds } from '../../tests/failure.ts';
import { never, once, times } from '../claim/count.ts';
import type { Finding, Verdict } from '../explain/finding.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { anyRest } from '../match/anything.ts';
import { allItems } from '../match/collections.ts';
import { call } from '../pattern/call.ts';
import { returned } from '../pattern/ends.ts';
import { plan } from '../plan/plan.ts';
import { computes, fulfils, gives, passesThrough } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Rules } from '../rule/rules.ts';
import { check } from '../wait/check.ts';
import type { ClaimError } from './claim-error.ts';
import { firstLine } from './first-line.ts';
import { summary } from './summary.ts';

type Camera = { expose(exposure: { seconds: number; filter: string }): void; cool(to: number): void };
type Dome = { open(): void; close(): void };

function night(rules?: Rules) {
  const ledger = openLedger({ name: 'rain closes the dome', ...(rules && { rules }) });
  const { camera, dome } = ledger.standIns<{ camera: Camera; dome: Dome }>();
  return { ledger, camera, dome };
}

/** The report without call sites, which are asserted on their own. */
const withoutSites = ({ message }: ClaimError) => message.replace(/ *\(?[\w./-]+\.test\.ts:\d+\)?/g, ' @');

describe('a count', () => {
  const cases: readonly [string, number, readonly number[]][] = [
    ['2', 2, [2]],
    ['2..4', 0, [2, 3, 4]],
    ['1..*', 0, [1, 2, 3, 4, 5]],
    ['0..1', 0, [0, 1]],
    ['0..*', 0, [0, 1, 2, 3, 4, 5]],
  ];
  test.each(cases)('of %s holds for just these numbers of calls', (range, number, holding) => {
    const held = [0, 1, 2, 3, 4, 5].filter((calls) => {
      const { dome } = night({ alwaysTrueClaim: 'allow' });
      for (let at = 0; at < calls; at++) dome.open();
      return holds(times(number === 0 ? (range as '1..*') : number, call(dome.open)));
    });
    expect(held).toEqual(holding);
  });

  test('takes any arguments, exactly these, none, or these and any further ones', () => {
    const ledger = openLedger();
    const log = ledger.callable<(...words: string[]) => void>('log');
    log();
    log('night');
    log('night', 'begins');
    check(
      times(3, call(log)),
      once(call(log, [])),
      once(call(log, ['night'])),
      times(2, call(log, ['night', anyRest])),
      times(3, call(log, [anyRest])),
      never(call(log, ['dawn', anyRest])),
    );
  });
});

describe('the report', () => {
  test('judges all claims and tells each: too few, too many, never called, not claimed', () => {
    const { camera, dome } = night();
    dome.open();
    camera.expose({ seconds: 30, filter: 'blue' });
    camera.expose({ seconds: 60, filter: 'green' });
    dome.open();
    const error = failure(
      once(call(camera.expose, [{ seconds: 30, filter: 'red' }])),
      once(call(dome.open)),
      once(call(dome.close)),
      never(call(camera.expose, [{ seconds: 60, filter: 'green' }])),
      times(2, call(dome.open)),
    );
    expect(withoutSites(error)).toBe(`\
#2 camera.expose @: [0].filter expected "red", received "blue"; 4 of 5 claims fail

 1  once camera.expose({ seconds: 30, filter: "red" })
    the nearest of 2 calls:
    #2   camera.expose({ seconds: 30, filter: "blue" }) @
         [0].filter   expected "red"   received "blue"

#3 camera.expose({ seconds: 60, filter: "green" }) @ is unexpected: 1 call, expected none

 2  never camera.expose({ seconds: 60, filter: "green" })
    1 matching call, expected none:
    #3   camera.expose({ seconds: 60, filter: "green" }) @   ◂ not expected

#4 dome.open() @ is unexpected: 2 calls, expected once

 3  once dome.open
    2 matching calls, expected once:
    #1   dome.open() @
    #4   dome.open() @   ◂ unexpected

dome.close was never called; of dome only dome.open ×2

 4  once dome.close
    called instead: dome.open ×2
    on other doubles: camera.expose ×2

4 of 5 claims do not hold · ledger "rain closes the dome"
codes: missingCall, surplusCall
`);
  });

  test('carries the verdict as data, names the culprits, and its stack begins at the test', () => {
    const { camera } = night();
    camera.expose({ seconds: 30, filter: 'blue' });
    const error = failure(once(call(camera.expose, [{ seconds: 30, filter: 'red' }])));
    expect(error.verdict).toMatchObject({
      holds: false,
      claims: 1,
      findings: [
        {
          code: 'missingCall',
          claim: 'once camera.expose({ seconds: 30, filter: "red" })',
          culprits: [1],
          differences: [{ path: [0, 'filter'], kind: 'changed', expected: 'red', received: 'blue' }],
          at: { file: import.meta.filename },
        },
      ],
    } satisfies Partial<Verdict> | object);
    const frames = (error.stack ?? '').split('\n').filter((line) => line.startsWith('    at '));
    const [claim, from] = frames.map((frame) => Number(/check\.test\.ts:(\d+):/.exec(frame)?.[1]));
    expect(claim).toBe(from === undefined ? undefined : error.verdict.findings[0]?.claimedAt?.line);
    expect([error.actual, error.expected]).toEqual([undefined, undefined]);
    const { actual, expected } = failure(once(call(camera.expose, [{ seconds: 30, filter: 'red', gain: 2 } as never, 5 as never])));
    expect([actual, expected]).toEqual(['[0].filter: "blue"\n[0].gain: nothing\n[1]: nothing', '[0].filter: "red"\n[0].gain: 2\n[1]: 5']);
  });

  test('says when the same arguments went to a sibling, or when the double was never used', () => {
    const { ledger, camera, dome } = night();
    const { spare } = ledger.standIns<{ spare: Camera }>();
    expect(failure(once(call(dome.close))).message).toContain('nothing was called at all');
    camera.cool(-20);
    const warm = ledger.callable<(to: number) => void>('warm');
    expect(withoutSites(failure(once(call(warm, [-20]))))).toContain('#1 camera.cool @ was called, expected warm with these arguments');
    expect(failure(once(call(spare.expose))).message).toContain('nothing of spare was called: was it handed');
  });

  test('says whose line called a helper through which all calls went', () => {
    const { dome } = night();
    const open = () => dome.open();
    open();
    open();
    const lines = failure(once(call(dome.open)))
      .message.split('\n')
      .filter((line) => /^ +#/.test(line));
    expect(lines).toHaveLength(2);
    for (const line of lines) expect(line).toMatch(/check\.test\.ts:(\d+), from \S*check\.test\.ts:(?!\1)\d+/);
  });

  test('names swapped arguments as such, before a call that is further off', () => {
    const ledger = openLedger();
    const { mount } = ledger.standIns<{ mount: { slewTo(ra: number, dec: number): void } }>();
    mount.slewTo(22, 83.6);
    mount.slewTo(1, 2);
    const [finding] = failure(once(call(mount.slewTo, [83.6, 22]))).verdict.findings;
    expect(finding?.culprits[0]).toBe(1);
    expect(finding).toMatchObject({
      differences: [
        { path: [0], kind: 'moved', from: 1 },
        { path: [1], kind: 'moved', from: 0 },
      ],
    });
  });

  test('shows of long texts that differ in several places what stands in each of them', () => {
    const ledger = openLedger();
    const write = ledger.callable<(text: string) => void>('write');
    const night = (wait: string) => `The night began with clouds, and it was decided to wait for ${wait} of an hour. Later it cleared up. `;
    write(night('a quarter').repeat(3));
    const { message } = failure(once(call(write, [night('the half').repeat(3)])));
    const told = [...message.matchAll(/^ +(expected|received) {3}"…?(.*?)…?"$/gm)];
    expect(told).toHaveLength(6);
    for (const [, side, text = ''] of told) expect(night(side === 'expected' ? 'the half' : 'a quarter').repeat(3)).toContain(text);
  });

  test('counts claims apart from what rules found', () => {
    const { dome } = night();
    const { verdict } = failure(once(call(dome.open)), once(call(dome.close)));
    const [first] = verdict.findings as [Finding];
    const ofRule = { ...first, of: undefined };
    const ends = (findings: readonly Finding[], claims: number) => firstLine({ ...verdict, findings, claims }).replace(/^[^;]*/, '');
    expect([ends([first, ofRule], 2), ends([first, ofRule, ofRule], 1), ends([ofRule, ofRule], 2), ends([ofRule], 2), ends([first], 1)]).toEqual([
      '; 1 of 2 claims fails, and 1 other problem',
      '; and 2 other problems',
      '; 2 problems',
      '',
      '',
    ]);
  });

  test('stays short when many entries fit, or one holds very much', () => {
    const ledger = openLedger();
    const store = ledger.callable<(frame: unknown) => void>('store');
    const large = (changed: number) => ({ pixels: Array.from({ length: 400 }, (_, at) => ({ at, light: at === 217 ? changed : 0 })) });
    for (let at = 0; at < 500; at++) store(at);
    store(large(9));
    const { message } = failure(times(2, call(store)), once(call(store, [large(0)])));
    expect(message.split('\n').length).toBeLessThan(40);
    const [, ...rest] = message.split('\n');
    expect(Math.max(...rest.map((line) => line.length))).toBeLessThanOrEqual(120);
    expect(message).toContain('[0].pixels[217].light   expected 0   received 9');
    expect(message).toContain('more matching calls');
  });
});

test('a summary lists calls, plans with their use, and claims judged', () => {
  const { ledger, camera, dome } = night();
  plan(call(camera.cool, [-20]), gives(undefined));
  plan(
    call(dome.open),
    fulfils(undefined) as never,
    computes(() => undefined),
  );
  camera.cool(-20);
  check(once(call(camera.cool)));
  expect(summary(ledger).replace(/ {3}\S+test\.ts:\d+/g, '')).toBe(`\
ledger "rain closes the dome" · 1 entry

calls
  #1   camera.cool(-20)   returned

plans
  camera.cool(-20) gives undefined   answered 1 call
  dome.open fulfils undefined, then computes   never used

claims
  holds   once camera.cool`);
  expect(summary(dome)).toMatch(/^dome in ledger "rain closes the dome" · 0 entries/);
  expect(summary(camera.cool)).toContain('#1   camera.cool(-20)');
});

describe('bad input gets one clear error', () => {
  const { ledger, dome, camera } = night();
  const { dome: other } = openLedger({ name: 'another night' }).standIns<{ dome: Dome }>();
  const wrong = <T>(value: unknown) => value as T;
  const open = call(dome.open);

  const cases: Readonly<Record<string, readonly [() => unknown, RegExp]>> = {
    'call of a function': [() => call(Math.max), /call\(\) was given ‹function max›, which no ledger records. Name a member/],
    'call of a result': [() => call(wrong<() => void>(dome.open())), /given undefined. Name the member itself and do not call it/],
    'call of a whole stand-in': [() => call(wrong<() => void>(dome)), /given the stand-in dome as a whole. Name one of its members/],
    'arguments without a list': [
      () => call(camera.cool, wrong(-20)),
      /takes the arguments as a list, and was given -20. Write call\(camera.cool, \[-20\]\)/,
    ],
    'a rest inside a value': [() => call(camera.expose, wrong([{ seconds: anyRest }])), /anyRest stands for all further arguments/],
    'a rest inside a matcher': [() => call(camera.expose, wrong([allItems([anyRest])])), /anyRest stands for all further arguments/],
    'a rest at an end': [() => returned(call(camera.cool), wrong(anyRest)), /returned\(…\): anyRest stands for all further arguments/],
    'a rest that is not last': [
      () => call(camera.cool, wrong([anyRest, 1])),
      /anyRest stands for all further arguments, so it must be the last item of an argument list/,
    ],
    'a double of another ledger': [
      () => call(camera.cool, wrong([{ of: other }])),
      /camera\.cool and dome among its arguments belong to two ledgers, ".*" and "another night"/,
    ],
    'a range upside down': [() => times('4..2', open), /times\("4\.\.2", …\): the lower bound is above the upper one. Write '2\.\.4'/],
    'a negative count': [() => times(-1, open), /times\(-1, …\): a count must be a whole number of 0 or more/],
    'half a call': [() => times(1.5, open), /times\(1\.5, …\): a count must be a whole number of 0 or more/],
    'a count in quotes': [() => times(wrong('2'), open), /times\("2", …\): a count is a number\. Write 2, without quotes/],
    'no range at all': [() => times(wrong('2..'), open), /this is not a valid range. Write a whole number, or two/],
    'a count without a pattern': [() => once(wrong<typeof open>(dome.open)), /once\(\) takes a pattern, and was given \[member dome\.open\]/],
    'nothing to check': [() => check(...wrong<[Claim]>([])), /check\(\) was given no claim, so it would verify nothing/],
    'an empty list to check': [() => check([]), /check\(\) was given no claim/],
    'a bare pattern to check': [() => check(wrong(open)), /the bare pattern `dome\.open`, which claims nothing. Say how often/],
    'a truth to check': [() => check(wrong(true)), /check\(\) was given true, which is not a claim/],
    'claims on two ledgers': [() => check(once(open), once(call(other.open))), /two ledgers, "rain closes the dome" and "another night"/],
    'a plan without a reply': [() => plan(open, ...wrong<[never]>([])), /plan\(call\(dome\.open\)\) has no reply/],
    'a plan with a bare value': [() => plan(open, wrong(4)), /was given 4 as a reply. Write gives\(4\)/],
    'a plan with a function': [
      () =>
        plan(
          open,
          wrong(() => 4),
        ),
      /was given ‹function› as a reply. Write computes\(\(\) => 5\)/,
    ],
    'a plan with a list of replies': [() => plan(open, wrong([gives(4)])), /was given \[gives 4\] as a reply. Write one reply after another/],
    'a plan with an object': [() => plan(open, wrong({ a: 1 })), /was given \{ a: 1 \} as a reply. Write gives\(value\)/],
    'a plan that never answers': [
      () => plan(wrong<typeof open>(never(open)), gives(undefined)),
      /would never answer. To claim that no call comes, write check\(never\(call\(dome\.open\)\)\)/,
    ],
    'a plan for nothing': [() => plan(wrong<typeof open>(5), gives(undefined)), /takes a pattern of calls, and was given 5/],
    'no real member to pass to': [() => plan(open, passesThrough()), /dome\.open stands for no real member that could answer/],
    'a promise to fulfil with': [() => fulfils(Promise.resolve(1)), /takes the value itself, and was given a promise/],
    'a value to compute': [() => computes(wrong<() => void>(4)), /computes\(\) takes a function, and was given 4/],
    'a name that is none': [() => ledger.standIn(wrong(undefined)), /standIn\(\) takes the double's name, and was given undefined/],
    'entries of another ledger': [() => ledger.entries(call(other.open)), /a pattern on dome\.open of another ledger: ".*" and "another night"/],
    'a summary of anything': [() => summary({}), /summary\(\) takes a ledger, a double or a member, and was given \{\}/],
    'call sites that are no number': [() => openLedger({ callSites: -1 }), /callSites must be a whole number of 0 or more, not -1/],
  };
  test.each(Object.entries(cases))('for %s', (_, [run, message]) => {
    expect(run).toThrow(TypeError);
    expect(run).toThrow(message);
  });
});

test('a finding leads to its claim, and is plain data for whoever prints it', () => {
  const claim = once(call(night().dome.open));
  const { verdict } = failure(claim);
  const written = JSON.stringify(verdict);
  expect([verdict.findings[0]?.of, written.length < 1_000]).toEqual([claim, true]);
  expect(JSON.parse(written).findings[0]).toMatchObject({ claim: 'once dome.open', message: expect.stringContaining('was never called') });
});

test('what JSON and other processes get of an error are texts: nothing of the program is read', () => {
  let reads = 0;
  const siren = {
    sound(_: unknown) {},
    get costly() {
      return ++reads;
    },
  };
  const ledger = openLedger();
  ledger.observe(siren, 'sound');
  siren.sound({ volume: 5n, list: Array.from({ length: 10_000 }, (_, at) => ({ at })), siren });
  const error = failure(once(call(siren.sound, [{ volume: 6n }])));
  expect(Object.keys(error.toJSON())).toEqual(['actual', 'expected', 'name', 'message', 'stack']);
  expect(JSON.stringify(error).length).toBeLessThan(10_000);
  expect(JSON.parse(JSON.stringify(error.verdict))).toMatchObject({
    holds: false,
    findings: [{ code: 'missingCall', culprits: [1], differences: [{ path: [0, 'volume'], expected: '6n', received: '5n' }, {}, {}] }],
  });
  // A runner that sends an error to another process copies all that its accessors give.
  expect(() => serialize({ verdict: error.verdict })).toThrow('could not be cloned');
  expect(reads).toBe(0);
});

test('findings come in the order of the calls that they name', () => {
  const { dome } = openLedger({ rules: 'loose', callSites: 0 }).standIns<{ dome: { open(): void; close(): void } }>();
  for (const member of ['open', 'close', 'close', 'open'] as const) dome[member]();
  const { verdict } = failure(once(call(dome.open)), once(call(dome.close)));
  expect(verdict.findings.map(({ message }) => message)).toEqual([
    '#3 dome.close() is unexpected: 2 calls, expected once',
    '#4 dome.open() is unexpected: 2 calls, expected once',
  ]);
});
