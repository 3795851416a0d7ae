import fc from 'fast-check';
import { expect, test } from 'vitest';
import { forAll, forAllAsync } from '../../tests/for-all.ts';
import { call, check, computes, deferred, type Entry, type Ledger, type LedgerOptions, once, openLedger, plan, reach, withLedger } from '../index.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import { align } from './align.ts';
import { asRead, asRecordOf, writeLastPass } from './last-pass.ts';
import { sideBySide } from './side-by-side.ts';
import { changesBetween } from './since.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 100);

/** Runs a test again and again, each with the record of the last run that passed. */
function lastPass(): (options: LedgerOptions, body: (ledger: Ledger) => unknown) => Promise<void> {
  let kept: string | undefined;
  return async (options, body) => {
    const write = (_: string, text: string) => {
      kept = text;
    };
    const store = { read: () => kept, write };
    await withLedger({ name: 'night', callSites: 0, ...options, lastPass: store }, async (ledger) => void (await body(ledger)));
  };
}

function errorOf(run: Promise<void>): Promise<Error> {
  return run.then(
    () => Promise.reject(new Error('it passed')),
    (error: Error) => error,
  );
}

/** Lets other work run for some turns. */
async function turns(count: number) {
  for (let left = count; left > 0; left--) await undefined;
}

interface Devices {
  dome: { open(token: string): void; close(): void; turn(to: number): void };
  camera: { expose(exposure: { id: string; lane: number; step: number }): Promise<void>; store(frame: { id: string; lane: number }): Promise<void> };
  log: { write(line: string, at: { time: number; seconds: number }): void };
}

/** A night whose lanes work at a time, for as long as it happens; with ids, times, and a beat that comes when it likes. */
async function night({ dome, camera, log }: Devices, random: () => number, fault: string) {
  const below = (most: number) => Math.floor(random() * most);
  const token = () => `t-${below(1e9).toString(36)}`;
  if (fault !== 'dropped') dome.open(token());
  log.write('begins', { time: below(1e12), seconds: fault === 'changed' ? 31 : 30 });
  dome.turn(1);
  const lane = async (lane: number) => {
    for (const step of [1, 2, 3]) {
      const id = token();
      await camera.expose({ id, lane: fault === 'wrong lane' && lane === 2 ? 7 : lane, step });
      await turns(below(12));
      await camera.store({ id, lane });
      await turns(below(12));
    }
  };
  await Promise.all([lane(1), lane(2), lane(3)]);
  if (fault === 'doubled') dome.turn(1);
  dome.turn(2);
  log.write('ends', { time: below(1e12), seconds: 30 });
  dome.close();
}

const told: Readonly<Record<string, RegExp>> = {
  dropped: /^dome\.open is missing at the start/,
  changed: /^#2 log\.write: \[1\]\.seconds is 31, and was 30/,
  'wrong lane': /^#\d+ camera\.expose: \[0\]\.lane is 7, and was 2/,
  doubled: /^#\d+ dome\.turn is new/,
};

test('what differs from one passing run to another is never told, and a fault is', async () => {
  await forAllAsync(runs, fc.nat(), fc.constantFrom(...Object.keys(told)), async (seed, fault) => {
    let state = seed + 1;
    const random = () => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return state / 2 ** 32;
    };
    const runs = lastPass();
    const run = (fault: string) =>
      runs({ rules: 'loose' }, async (ledger) => {
        const { dome, camera, log } = ledger.standIns<Devices>();
        const wait = computes(() => turns(Math.floor(random() * 10)));
        plan(call(camera.expose), wait);
        plan(call(camera.store), wait);
        await night({ dome, camera, log }, random, fault);
        if (fault !== '') check(once(call(dome.turn, [0])));
      });
    for (let pass = 0; pass < 3; pass++) await run('');
    const { message } = await errorOf(run(fault));
    const [line = '', , heading = ''] = message.split('\n');
    const groups = fault === 'wrong lane' ? / 1 change in 3 calls$/ : / 1 change in 1 call$/;
    expect([line, heading, told[fault]?.test(line), groups.test(heading)]).toEqual([line, heading, true, true]);
  });
}, 120_000);

/** The fewest edits that make one list into another, by trying all. */
function fewestEdits(one: readonly string[], other: readonly string[]): number {
  const [first, ...rest] = one;
  const [second, ...others] = other;
  if (first === undefined || second === undefined) return one.length + other.length;
  if (first === second) return Math.min(fewestEdits(rest, others), 2 + fewestEdits(rest, others));
  return 1 + Math.min(fewestEdits(rest, other), fewestEdits(one, others));
}

test('an alignment pairs equal items in their order, and leaves as few over as can be', () => {
  const lists = fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 8 });
  forAll(5 * runs, lists, lists, (before, after) => {
    const { toAfter, toBefore } = align(before, after) ?? { toAfter: [], toBefore: [] };
    const pairs = toAfter.flatMap((to, at) => (to < 0 ? [] : [[at, to] as const]));
    for (const [at, to] of pairs) expect([before[at], toBefore[to]]).toEqual([after[to], at]);
    expect(pairs.map(([, to]) => to)).toEqual(pairs.map(([, to]) => to).sort((one, other) => one - other));
    expect(toBefore.filter((at) => at >= 0)).toHaveLength(pairs.length);
    expect(before.length + after.length - 2 * pairs.length).toBe(fewestEdits(before, after));
  });
});

test.each([
  ['a second equal call is the new one', 'a b c', 'a b b c', 'a b - c'],
  ['a turn is new as a whole', 'a r b r c', 'a r b r b r c', 'a r b - - r c'],
  ['of equal turns the last is new', 'a r b c', 'a r b r b c', 'a r b - - c'],
  ['what begins a turn stays with it', 'r a r c', 'r a r b r c', 'r a - - r c'],
])('%s', (_, before, after, aligned) => {
  const { toBefore = [] } = align(before.split(' '), after.split(' ')) ?? {};
  expect(toBefore.map((at, to) => (at < 0 ? '-' : after.split(' ')[to])).join(' ')).toBe(aligned);
});

interface Night {
  readonly dome: { open(): void; close(): void; turn(to: number, speed?: number): void; shut(): void };
  readonly camera: { expose(exposure: object): void; cool(degrees: number): Promise<void> };
  readonly log: { write(line: string): void };
}

type Step = (night: Night) => unknown;

const open: Step = ({ dome }) => dome.open();
const turn =
  (to: number, speed?: number): Step =>
  ({ dome }) =>
    speed === undefined ? dome.turn(to) : dome.turn(to, speed);
const expose =
  (exposure: object): Step =>
  ({ camera }) =>
    camera.expose(exposure);
const write =
  (line: string): Step =>
  ({ log }) =>
    log.write(line);
const close: Step = ({ dome }) => dome.close();
const cool: Step = ({ camera }) => camera.cool(-20);

const stored = write('frames 1 to 40 of the night are stored');
const steps = [open, turn(90, 2), expose({ seconds: 30, at: { dec: 22 } }), cool, stored, turn(7), close];

/** What is done instead, how the first line begins, and what stands below its heading. */
const changes: Readonly<Record<string, readonly [readonly Step[], string, readonly string[]]>> = {
  'an argument': [
    steps.with(5, turn(70)),
    '#6 dome.turn was given 70, and 7 when this test last passed',
    ['first   #6   dome.turn(70)   [0] was 7, is 70'],
  ],
  'a part of an argument': [
    steps.with(2, expose({ seconds: 30, at: { dec: 0 } })),
    '#3 camera.expose: [0].at.dec is 0, and was 22 when this test last passed',
    ['first   #3   camera.expose({ seconds: 30, at: { dec: 0 } })   [0].at.dec was 22, is 0'],
  ],
  'a property that is gone': [
    steps.with(2, expose({ at: { dec: 22 } })),
    '#3 camera.expose: [0].seconds is missing, and was 30 when this test last passed',
    [],
  ],
  'a property that is new': [
    steps.with(1, turn(90, 2)).with(5, turn(7, 1)),
    '#6 dome.turn: [1] is 1, and was not there when this test last passed',
    [],
  ],
  'arguments that are swapped': [steps.with(1, turn(2, 90)), '#2 dome.turn: [0] and [1] are swapped, and were not when this test last passed', []],
  'a value that is found again': [
    steps
      .with(1, turn(91, 2))
      .with(2, expose({ seconds: 30, at: { dec: 22 }, ra: 0 }))
      .with(5, turn(91)),
    '#2 dome.turn: [0] is 91, and was 90',
    ['first   #2   dome.turn(91, 2)   [0] was 90, is 91'],
  ],
  'a call that is missing': [
    steps.toSpliced(4, 1),
    'log.write is missing after #4 camera.cool, and came there when this test last passed',
    ['first      log.write("frames 1 to 40 of the night are stored")   missing after #4 camera.cool'],
  ],
  'the first call': [steps.slice(1), 'dome.open is missing at the start, and came there when this test last passed', []],
  'calls that are missing together': [
    steps.toSpliced(1, 3),
    '3 calls are missing after #1 dome.open that came when this test last passed: dome.turn, camera.expose and camera.cool',
    ['first      dome.turn(90, 2)   missing after #1 dome.open, and 2 calls more'],
  ],
  'a call that is new': [
    steps.toSpliced(5, 0, stored),
    '#6 log.write is new since this test last passed',
    ['first   #6   log.write("frames 1 to 40 of the night are stored")   new'],
  ],
  'calls that are new': [[...steps, open, close], '#8 dome.open and 1 call after it are new since this test last passed', []],
  'another member': [
    steps.with(6, ({ dome }) => dome.shut()),
    '#7 dome.shut was called, and dome.close when this test last passed',
    ['first   #7   dome.shut()   was dome.close'],
  ],
  'a call that moved': [[stored, ...steps.toSpliced(4, 1)], '#1 log.write came before #2 dome.open, and after it when this test last passed', []],
  'a call that is not awaited': [
    steps.with(3, (night) => void cool(night)),
    '#4 camera.cool had not ended when #5 log.write began, as it had when this test last passed',
    ['first   #4   camera.cool(-20)   had ended before #5 log.write then'],
  ],
  'the end of a long text': [
    steps.with(4, write('frames 1 to 40 of the night are whole')),
    '#5 log.write was given …"ight are whole", and …"ight are stored" when this test last passed',
    [],
  ],
};

async function nightOf(ledger: Ledger, done: readonly Step[]): Promise<Night> {
  const { dome, camera, log } = ledger.standIns<Night>();
  plan(
    call(camera.cool),
    computes(() => turns(5)),
  );
  const night = { dome, camera, log };
  for (const step of done) await step(night);
  return night;
}

test.each(Object.entries(changes))('the first line names %s', async (_, [changed, line, rows]) => {
  const run = lastPass();
  await run({}, (ledger) => nightOf(ledger, steps));
  const { message } = await errorOf(
    run({}, async (ledger) => {
      const { dome } = await nightOf(ledger, changed);
      check(once(call(dome.turn, [0])), once(call(dome.turn)));
    }),
  );
  const [first = '', , heading, ...block] = message.split('\n');
  expect(first.startsWith(line) ? line : first).toBe(line);
  expect(first).toMatch(/; \d of 2 claims fails?$/);
  expect(heading).toMatch(/^since it last passed \(\d+ \w{3} \d\d:\d\d, 7 calls\): \d changes? in \d calls?$/);
  expect(block.slice(0, rows.length).map((row, at) => (row.trim().startsWith(rows[at] ?? '') ? rows[at] : row))).toEqual(rows);
});

/** A call that begins, or the oldest that is under way and ends. */
const events = fc.array(fc.constantFrom('a 1', 'a 2', 'b 1', 'b 2', 'c 1', 'end'), { maxLength: 10 });

async function recorded(played: readonly string[]): Promise<Journal> {
  const ledger = openLedger({ name: 'x', rules: 'loose', callSites: 0 });
  const open: (() => void)[] = [];
  for (const event of played) {
    if (event === 'end') open.shift()?.();
    else {
      const [name = '', to] = event.split(' ');
      const double = ledger.callable<(to: number) => Promise<void>>(name);
      const reply = deferred<void>();
      plan(call(double), reply);
      open.push(() => reply.fulfil());
      void double(Number(to));
    }
    await turns(6);
  }
  return asRead(tied(ledger)?.journal as Journal);
}

test('every change that is told is true of both records, and every call is told or as it was', async () => {
  await forAllAsync(3 * runs, events, events, async (one, other) => {
    const [before, after] = [await recorded(one), await recorded(other)];
    const { groups } = changesBetween(asRecordOf(before), after, [], { at: { is: 'over' } });
    const changes = groups.flatMap(({ changes: together }) => together);
    const saysOf = ({ label, args }: Entry) => `${label} ${args}`;
    const gone = changes.filter((change) => change.is === 'gone' || change.is === 'replaced').length;
    const come = changes.filter((change) => change.is === 'new' || change.is === 'replaced').length;
    expect(before.entries.length - gone).toBe(after.entries.length - come);
    for (const change of changes) {
      if (change.is === 'changed') {
        expect(change.now.label).toBe(change.was.label);
        expect(change.differences.map(({ expected, received }) => [expected, received])).toEqual([[change.was.args[0], change.now.args[0]]]);
      }
      if (change.is === 'replaced') expect(change.now.label).not.toBe(change.was.label);
      if (change.is === 'moved') {
        const { now, was, beside, isBefore } = change;
        expect(saysOf(now)).toBe(saysOf(was));
        expect(now.began < beside.began).toBe(isBefore);
        // One that is equal to it, or is its namesake, stood on the other side then.
        const then = before.entries.filter(({ target }) => target.label === beside.label);
        expect(then.some(({ began }) => was.began < began !== isBefore)).toBe(true);
      }
      if (change.is === 'ended') {
        const { now, was, beside, isBefore } = change;
        expect((now.ended ?? Number.POSITIVE_INFINITY) < beside.began).toBe(isBefore);
        const then = before.entries.filter(({ target }) => target.label === beside.label);
        expect(then.some(({ began }) => (was.ended ?? 0) < began !== isBefore)).toBe(true);
      }
    }
  });
}, 60_000);

test('if nothing changed, that is said, and what follows from it only if it does', async () => {
  const sameFor = async (options: { readonly twice?: number; readonly body?: () => void; readonly value?: () => unknown }) => {
    const { twice = 0, body = () => check, value = () => 1 } = options;
    const run = lastPass();
    const night = (ledger: Ledger) => {
      const { log } = ledger.standIns<{ log: { write(value: unknown): void } }>();
      log.write(value());
      return log;
    };
    for (let pass = 0; pass <= twice; pass++) await run({}, night);
    const { message } = await errorOf(
      run({}, (ledger) => {
        const log = night(ledger);
        body();
        check(once(call(log.write, ['dusk'])));
      }),
    );
    return /the record is the same as when this test last passed \(.*\)(.*)$/m.exec(message)?.[1];
  };
  let time = 0;
  class Hidden {
    #value = ++time;
    same = () => this.#value;
  }
  expect(await sameFor({})).toBe(': what changed is the test');
  expect(await sameFor({ twice: 1, value: () => ++time })).toBe(', but for what differs from run to run');
  expect(
    await sameFor({
      body: () => {
        throw new Error('too dark');
      },
    }),
  ).toBe(': no double heard what changed');
  expect(await sameFor({ value: () => new Hidden() })).toBe(', as far as can be told');
});

test('what was changed rightfully counts as steady after three passing runs, what differs again and again after thirty', async () => {
  const run = lastPass();
  const night = (to: number, isExtra: boolean) => (ledger: Ledger) => {
    const { dome, camera } = ledger.standIns<Night>();
    if (isExtra) dome.open();
    dome.turn(to);
    camera.expose({});
    return { dome };
  };
  const changesFor = async (to: number, isExtra: boolean) => {
    const { message } = await errorOf(
      run({}, (ledger) => {
        const { dome } = night(to, isExtra)(ledger);
        check(once(call(dome.close)));
      }),
    );
    return Number(/: (\d) changes? in/.exec(message)?.[1] ?? 0);
  };
  const passes = async (values: readonly number[], isExtra: boolean) => {
    for (const to of values) await run({}, night(to, isExtra));
  };
  await passes([5], false);
  expect(await changesFor(0, true)).toBe(2);
  // The program is changed: another value, and one more call.
  await passes([6], true);
  expect(await changesFor(0, false)).toBe(0);
  await passes([6, 6, 6, 6], true);
  expect(await changesFor(0, false)).toBe(2);
  // A value that differs in many runs.
  await passes([1, 2, 3, ...Array.from({ length: 20 }, () => 3)], true);
  expect(await changesFor(0, true)).toBe(0);
  await passes(
    Array.from({ length: 12 }, () => 3),
    true,
  );
  expect(await changesFor(0, true)).toBe(1);
});

test('a check, a wait, or one for quiet that fails early tells of what it had, and not of what was to come', async () => {
  const early = async (at: (ledger: Ledger, night: Night, isWrong: boolean) => unknown) => {
    const run = lastPass();
    const body = (isWrong: boolean) => async (ledger: Ledger) => {
      const night = await nightOf(ledger, [open, write('dusk')]);
      check(once(call(night.dome.open)));
      if (isWrong) night.dome.turn(3);
      await at(ledger, night, isWrong);
      night.dome.close();
      check(once(call(night.dome.close)));
    };
    await run({}, body(false));
    return (await errorOf(run({}, body(true)))).message.split('\n').slice(0, 5).join('\n');
  };
  const only =
    /^#3 dome\.turn is new since this test last passed; (?:timed out .*)?[\s\S]*: 1 change in 1 call\n {2}first {3}#3 {3}dome\.turn\(3\) {3}new$/m;
  const wrong = (isWrong: boolean, night: Night) => (isWrong ? call(night.dome.shut) : call(night.dome.open));
  expect(await early((_, night, isWrong) => check(once(wrong(isWrong, night)), once(call(night.log.write))))).toMatch(only);
  expect(await early((_, night, isWrong) => reach(once(wrong(isWrong, night)), { within: 5 }))).toMatch(only);
  const slow = await early(async (ledger, night, isWrong) => {
    let finish = () => {};
    const heater = { warm: () => new Promise<void>((done) => (finish = done)) };
    ledger.observe(heater, 'warm', { name: 'heater' });
    const warming = heater.warm();
    check(once(wrong(isWrong, night)));
    finish();
    await warming;
  });
  const quiet = await early(async (ledger, { camera }, isWrong) => {
    if (isWrong) plan(call(camera.cool), deferred<void>());
    void camera.cool(1);
    await ledger.untilQuiet({ within: 5 });
  });
  for (const said of [slow, quiet]) expect(said).toMatch(/^#3 dome\.turn is new since this test last passed[\s\S]*: 1 change in 1 call\n/);
});

test('what is unsteady in one call of a member is not so in the others, nor what stands beside it', async () => {
  const run = lastPass();
  let time = 0;
  const night = (seconds: number, unit: string) => (ledger: Ledger) => {
    const { log } = ledger.standIns<{ log: { write(line: string, at: { time: number; seconds: number; unit: string }): void } }>();
    log.write('dusk', { time: ++time, seconds: 1, unit });
    for (const line of ['one', 'two', 'three']) log.write(line, { time: 0, seconds: line === 'two' ? seconds : 1, unit: 'cm' });
    return log;
  };
  for (let pass = 0; pass < 6; pass++) await run({}, night(1, 'cm'));
  const told = async (seconds: number, unit: string) => {
    const { message } = await errorOf(run({}, (ledger) => check(once(call(night(seconds, unit)(ledger).write)))));
    return message.split('\n').slice(0, 3).join('\n');
  };
  expect(await told(2, 'cm')).toMatch(/^#3 log\.write: \[1\]\.seconds is 2, and was 1 [\s\S]*: 1 change in 1 call$/);
  expect(await told(1, 'mm')).toMatch(/^#1 log\.write: \[1\]\.unit is "mm", and was "cm" [\s\S]*: 1 change in 1 call$/);
  expect(await told(1, 'cm')).toMatch(/\), but for what differs from run to run$/);
});

test('a key that comes and goes is unsteady, and those beside it are not', async () => {
  const run = lastPass();
  const write = (ledger: Ledger, at: object) => ledger.callable<(at: object) => void>('write')(at);
  for (const at of [{ dec: 1, moon: 1 }, { dec: 1 }, { dec: 1, moon: 1 }]) await run({}, (ledger) => write(ledger, at));
  const { message } = await errorOf(run({}, (ledger) => [write(ledger, { dec: 2, moon: 1 }), check(once(call(ledger.callable('never'))))]));
  expect(message).toMatch(/^#1 write: \[0\]\.dec is 2, and was 1 /);
});

test('calls that passed each other have no steady order, and those beside them have', async () => {
  const run = lastPass();
  const [one, two, three] = [turn(1), turn(2), turn(3)];
  for (const steps of [
    [open, close, one, two, three],
    [close, open, one, two, three],
  ])
    await run({}, (ledger) => nightOf(ledger, steps));
  const { message } = await errorOf(
    run({}, async (ledger) => {
      const { dome } = await nightOf(ledger, [open, close, two, one, three]);
      check(once(call(dome.turn, [0])));
    }),
  );
  expect(message).toMatch(/^#4 dome\.turn .*came after #3 dome\.turn[\s\S]*: 1 change in 1 call\n/);
});

test('the same member in place of another, or the same call that is not awaited, is one change', async () => {
  const run = lastPass();
  const night = (isWrong: boolean) => async (ledger: Ledger) => {
    const { dome, camera } = ledger.standIns<Night>();
    plan(
      call(camera.cool),
      computes(() => turns(5)),
    );
    for (const to of [1, 2, 3]) {
      if (isWrong) dome.shut();
      else dome.close();
      const cooled = camera.cool(to);
      if (!isWrong) await cooled;
      dome.turn(to);
      await cooled;
    }
    if (isWrong) check(once(call(dome.turn)));
  };
  await run({}, night(false));
  const { message } = await errorOf(run({}, night(true)));
  expect(message).toMatch(/: 2 changes in 6 calls\n {2}first {3}#1 {3}dome\.shut\(\) {3}was dome\.close, and in 2 later calls/);
});

test('calls without arguments stand for one another only if each is alone; of records that share nothing, members are counted', async () => {
  const told = async (before: readonly Step[], after: readonly Step[]) => {
    const run = lastPass();
    await run({}, (ledger) => nightOf(ledger, before));
    const { message } = await errorOf(
      run({}, async (ledger) => {
        const { dome } = await nightOf(ledger, after);
        check(once(call(dome.turn, [0])));
      }),
    );
    return message;
  };
  const shut: Step = ({ dome }) => dome.shut();
  expect(await told([open, open, turn(1)], [shut, close, turn(1)])).toMatch(
    /^2 calls are missing at the start that came when this test last passed: dome\.open;?/,
  );
  expect(await told([open, turn(1), turn(2), close], [open, turn(3), close])).toMatch(/: 2 changes in 2 calls\n/);
  const many = (from: number) => Array.from({ length: 1_200 }, (_, at) => turn(from + at));
  expect(await told([...many(0), close], [...many(5_000), open])).toMatch(
    /\nsince it last passed \(.*, 1201 calls\): hardly anything is as it was\n {4}dome\.close ×0, was ×1\n {4}dome\.open ×1, was ×0\n/,
  );
});

test.each([
  ['the same', ['a', 'b', 'c'], ['a', 'b', 'c'], ['a=a', 'b=b', 'c=c']],
  ['one is gone', ['a', 'b', 'c'], ['a', 'c'], ['a=a', 'b- gone', 'c=c']],
  ['one is new', ['a', 'c'], ['a', 'b', 'c'], ['a=a', '-b new', 'c=c']],
  ['more of one beside one that is gone', ['a', 'b', 'c'], ['a', 'a', 'a', 'c'], ['a=a', 'b- gone', '-a new', '-a new', 'c=c']],
  ['one is changed', ['a', 'b 1', 'c'], ['a', 'b 2', 'c'], ['a=a', 'b 1=b 2 changed', 'c=c']],
  ['one has moved', ['a', 'b', 'c', 'd'], ['b', 'c', 'd', 'a'], ['a- moved', 'b=b', 'c=c', 'd=d', '-a moved']],
])('two records stand beside each other: %s', async (_, then, now, rows) => {
  const record = (calls: readonly string[]) => {
    const ledger = openLedger({ name: 'night', rules: 'loose', callSites: 0 });
    const { dome } = ledger.standIns<{ dome: Record<string, (to?: string) => void> }>();
    for (const each of calls) {
      const [member = '', to] = each.split(' ');
      if (to === undefined) dome[member]?.();
      else dome[member]?.(to);
    }
    return tied(ledger)?.journal as Journal;
  };
  const kept = writeLastPass(record(then), { test: 'night', passedAt: 0, checks: [] }, undefined) ?? '';
  const told = (entry: HeldEntry | undefined) => (entry === undefined ? '' : [entry.target.member, ...entry.args].join(' '));
  const found = sideBySide(kept, record(now)) ?? [];
  expect(found.map((row) => `${told(row.was)}${row.was && row.now ? '=' : '-'}${told(row.now)}${row.is === 'same' ? '' : ` ${row.is}`}`)).toEqual(
    rows,
  );
});
