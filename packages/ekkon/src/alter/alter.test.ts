import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { failure } from '../../tests/failure.ts';
import { forAllAsync } from '../../tests/for-all.ts';
import { claimFor, claims, moves, played } from '../../tests/random-claims.ts';
import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import { either, inTurn, loop, unbroken } from '../claim/order/steps.ts';
import { leadsTo, onlyAfter } from '../claim/precedence.ts';
import { Follower } from '../judge/follower.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { withLedger } from '../ledger/with-ledger.ts';
import { partial } from '../match/partial.ts';
import { call } from '../pattern/call.ts';
import { returned } from '../pattern/ends.ts';
import { item } from '../pattern/streams.ts';
import { plan } from '../plan/plan.ts';
import { computes, gives } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { alteredEntry, type Change, changedEvents, recordedEvents, tickBehind } from './change.ts';
import { Tracks } from './tracks.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 700);

/** What is done to a record: to the entry at a place, or behind the event at one. */
const alterations = fc.record({
  kind: fc.constantFrom('drop' as const, 'repeat' as const, 'move' as const, 'argument' as const, 'outcome' as const),
  at: fc.nat(20),
  to: fc.nat(40),
  arg: fc.constantFrom(1, 2, 9),
});

type Made = typeof alterations extends fc.Arbitrary<infer T> ? T : never;

function changeFor({ entries, tick }: Journal, { kind, at, to, arg }: Made): Change {
  const entry = entries[at % entries.length] as HeldEntry;
  const behind = to % (tick + 1);
  const moved = { began: tickBehind(behind, 1), ended: entry.ended === undefined ? undefined : tickBehind(behind, 2) };
  switch (kind) {
    case 'drop':
      return { without: [entry], added: [] };
    case 'repeat':
      return { without: [], added: [alteredEntry({ ...entry, id: entries.length + 1 }, moved)] };
    case 'move':
      return { without: [entry], added: [alteredEntry(entry, moved)] };
    case 'argument':
      return { without: [entry], added: [alteredEntry(entry, { args: [arg] })] };
    case 'outcome':
      return {
        without: [entry],
        added: entry.ended === undefined ? [entry] : [alteredEntry(entry, { outcome: { state: 'rejected', reason: 'wind' } })],
      };
  }
}

test('a changed record is judged from where the change is as it would be from its start', async () => {
  let [changed, taken, all] = [0, 0, 0];
  await forAllAsync(
    runs,
    fc.array(claims, { minLength: 1, maxLength: 3 }),
    fc.array(moves, { minLength: 1, maxLength: 12 }),
    fc.array(alterations, { maxLength: 4 }),
    async (told, made, altered) => {
      const parts = played();
      const { journal, evidence } = parts;
      for (const move of made) await parts.play(move);
      if (journal.entries.length === 0) return;
      const held = told.map((each) => claimOf(claimFor(parts, each)) as HeldClaim);
      const tracks = new Tracks(held, evidence);
      for (const each of altered) {
        const change = changeFor(journal, each);
        const events = changedEvents(recordedEvents(journal), change);
        for (const claim of held) {
          const follower = new Follower(claim);
          for (const { entry, end, tick } of events) follower.take(entry, end, tick);
          const anew = follower.judged(evidence);
          const said = `${claim.notation} after ${made.join(', ')} and ${JSON.stringify(each)}`;
          expect([said, tracks.judgedAfter(claim, change)]).toEqual([said, anew]);
          changed++;
          all += events.length;
        }
      }
      taken += tracks.record.taken;
    },
  );
  expect(changed).toBeGreaterThan(runs);
  expect(taken).toBeLessThan(all);
}, 60_000);

test('a call that a stretch covers is covered no more once the stretch is gone', async () => {
  const { a, b, journal, evidence } = played();
  void a(1);
  b(2);
  const inside = during({ from: call(a) }, once(call(b)));
  const held = [inside, nothingElse(b)].map((each) => claimOf(each) as HeldClaim);
  const tracks = new Tracks(held, evidence);
  const [first, second] = journal.entries as [HeldEntry, HeldEntry];
  const after = (without: HeldEntry) => tracks.judgedAfter(held[1] as HeldClaim, { without: [without], added: [] });
  expect([after(second), after(first)]).toEqual(['holds', 'fails']);
});

interface Devices {
  dome: { open(): void; close(): void; turn(to: number): void };
  camera: { expose(exposure: { seconds: number; filter: string }): string; shoot(exposure: { seconds: number; filter: string }): string };
  log: { write(line: string): void };
}

describe('the cause of several findings', () => {
  const red = { seconds: 30, filter: 'red' };
  const night = ({ dome, camera, log }: Devices) => [
    () => dome.open(),
    () => dome.turn(90),
    () => camera.expose(red),
    () => log.write('stored'),
    () => camera.expose({ ...red, seconds: 60 }),
    () => dome.close(),
  ];
  const claimed = ({ dome, camera, log }: Devices) => [
    once(call(dome.open)),
    once(call(dome.close)),
    once(call(dome.turn, [90])),
    once(call(camera.expose, [red])),
    times(2, call(camera.expose)),
    once(returned(call(camera.expose, [partial({ seconds: 60 })]), 'frame')),
    inTurn(call(dome.open), call(dome.turn), call(camera.expose, [red]), call(log.write), call(camera.expose), call(dome.close)),
    leadsTo(call(dome.open), call(dome.close)),
    onlyAfter(call(camera.expose), call(dome.turn)),
    nothingElse(dome, camera),
  ];

  /** What is done to the night, and what its first line says then. */
  const faults: Readonly<Record<string, readonly [(calls: (() => unknown)[], devices: Devices) => readonly (() => unknown)[], RegExp, object]>> = {
    'a call is left out': [
      (calls) => calls.toSpliced(5, 1),
      /^dome\.close is missing after #5 camera\.expose \(.*\); 3 of 10 claims fail$/,
      { alteration: 'insert', culprits: [], between: [5, undefined] },
    ],
    'a call is made twice': [
      (calls) => calls.toSpliced(1, 0, calls[1] as () => unknown),
      /^one of #2, #3 dome\.turn \(.*\) is unexpected; 2 of 10 claims fail$/,
      { alteration: 'drop', culprits: [2, 3] },
    ],
    'an argument is wrong': [
      (calls, { camera }) => calls.with(2, () => camera.expose({ ...red, filter: 'blue' })),
      /^#3 camera\.expose \(.*\): \[0\]\.filter expected "red", received "blue"; 2 of 10 claims fail$/,
      { alteration: 'argument', culprits: [3] },
    ],
    'a call goes to a sibling': [
      (calls, { camera }) => calls.with(2, () => camera.shoot(red)),
      /^#3 camera\.shoot \(.*\) was called, expected camera\.expose with these arguments; 4 of 10 claims fail$/,
      { alteration: 'member', culprits: [3] },
    ],
    'two calls change places': [
      (calls) => calls.toSpliced(1, 2, calls[2] as () => unknown, calls[1] as () => unknown),
      /^#2 camera\.expose \(.*\) and #3 dome\.turn \(.*\) came in the wrong order; 2 of 10 claims fail$/,
      { alteration: 'move', culprits: [2, 3] },
    ],
    'nothing more comes': [
      (calls) => calls.slice(0, 4),
      /^nothing came after #4 log\.write \(.*\): camera\.expose and dome\.close are missing; 5 of 10 claims fail$/,
      { alteration: 'tail', culprits: [] },
    ],
  };

  test.each(Object.entries(faults))('%s', (_, [alter, line, cause]) => {
    const devices = openLedger({ rules: 'loose' }).standIns<Devices>();
    const { dome, camera, log } = devices;
    const own = { dome, camera, log };
    plan(call(camera.expose), gives('frame'));
    plan(call(camera.shoot), gives('frame'));
    for (const run of alter(night(own), own)) run();
    const { message, verdict } = failure(...claimed(own));
    const [first = ''] = message.split('\n');
    expect([first, line.test(first)]).toEqual([first, true]);
    expect(verdict.causes).toMatchObject([cause]);
    expect(verdict.causes[0]?.explains).toHaveLength(verdict.findings.length);
  });

  test('nothing is put in where a claim that holds wants nothing between', () => {
    const { dome } = openLedger({ rules: 'loose' }).standIns<Devices>();
    dome.open();
    dome.turn(90);
    const claims = [once(call(dome.close)), leadsTo(call(dome.open), call(dome.close))];
    expect(failure(inTurn(unbroken(call(dome.open), call(dome.turn))), ...claims).message.split('\n')[0]).toMatch(
      /^dome\.close is missing after #2 dome\.turn \(.*\); 2 of 3 claims fail$/,
    );
    const between = inTurn(call(dome.open), call(dome.close), call(dome.turn));
    const explained = (...claimed: Claim[]) => failure(...claimed).verdict.causes.map(({ explains }) => explains.length);
    expect(explained(inTurn(unbroken(call(dome.open), call(dome.turn))), once(call(dome.close)), between)).toEqual([1]);
    expect(explained(once(call(dome.close)), between)).toEqual([2]);
  });

  test('members that were never called are named, and not the last of others', () => {
    const line = (claims: (devices: Devices) => readonly Claim[]) => {
      const { dome, camera, log } = openLedger({ rules: 'loose' }).standIns<Devices>();
      const failing = claims({ dome, camera, log });
      dome.open();
      return failure(once(call(dome.open)), ...failing).message.split('\n')[0];
    };
    const written = ({ log }: Devices) => [once(call(log.write, ['dusk'])), once(call(log.write, ['dawn']))];
    expect(line(written)).toBe('log.write was never called; 2 of 3 claims fail');
    expect(line((devices) => [...written(devices), once(call(devices.dome.close))])).toBe('log.write was never called; 3 of 4 claims fail');
    const shown = ({ camera }: Devices) => [once(call(camera.expose)), once(call(camera.shoot))];
    expect(line((devices) => [...written(devices), ...shown(devices), once(call(devices.dome.turn)), once(call(devices.dome.close))])).toEqual(
      expect.stringMatching(
        /^nothing came after #1 dome\.open \(.*\): log\.write, camera\.expose, camera\.shoot, dome\.turn and dome\.close are missing; 6 of 7 claims fail$/,
      ),
    );
    const ledger = openLedger({ rules: 'loose' });
    const { dome } = ledger.standIns<Devices>();
    const both = [once(call(dome.open)), once(call(dome.close))];
    expect(failure(...both).message.split('\n')[0]).toBe('nothing was called: dome.open and dome.close are missing; 2 of 2 claims fail');
    const rain = ledger.follow<number>(() => () => {}, 'rain');
    dome.turn(2);
    expect(failure(once(item(rain, 1)), once(item(rain, 2))).message.split('\n')[0]).toMatch(/^rain emitted nothing; 2 of 2 claims fail$/);
  });

  const apart: Readonly<
    Record<string, readonly [(devices: Devices) => void, (devices: Devices) => readonly Claim[], readonly (readonly [string, number])[]]>
  > = {
    'one more turn of a loop': [
      ({ dome, camera }) => [dome.turn(1), camera.expose(red), dome.close()],
      ({ dome, camera }) => [times(2, call(dome.turn)), times(2, call(camera.expose))],
      [['after #2 camera.expose the second turn is missing: dome.turn and camera.expose; it goes on with #3 dome.close', 2]],
    ],
    'members that are missing at two places': [
      ({ dome, camera }) => [dome.turn(1), camera.expose(red)],
      ({ dome, log }) => [once(call(dome.open)), times('1..*', call(dome.open)), once(call(log.write)), times('1..*', call(log.write))],
      [
        ['dome.open was never called', 2],
        ['log.write was never called', 2],
      ],
    ],
    'calls of one member that are unexpected': [
      ({ dome }) => [dome.turn(1), dome.turn(1), dome.turn(2), dome.turn(2)],
      ({ dome }) => [once(call(dome.turn, [1])), once(call(dome.turn, [2])), times(2, call(dome.turn))],
      [['#2 dome.turn(1) is unexpected, and so is 1 later call of it', 3]],
    ],
    'what never followed, and not what it should have followed': [
      ({ dome }) => [dome.open(), dome.turn(3)],
      ({ dome }) => [leadsTo(call(dome.open), call(dome.close)), leadsTo(call(dome.turn), call(dome.close))],
      [['dome.close is missing after #2 dome.turn', 2]],
    ],
    'no drop that takes from a sequence what it needs': [
      ({ dome, camera }) => [dome.open(), camera.expose(red), dome.turn(1)],
      ({ dome, camera }) => [never(call(dome.turn)), times(0, call(dome.turn, [1])), inTurn(call(camera.expose), call(dome.open), call(dome.turn))],
      [['#1 dome.open came too early: expected after #2 camera.expose', 1]],
    ],
    'one turn that is missing, as another one was': [
      ({ dome, camera, log }) => [dome.turn(2), camera.expose(red), log.write('at 2'), dome.turn(3), dome.close()],
      ({ dome, camera, log }) => [
        inTurn(loop(3, inTurn(call(dome.turn), either(inTurn(call(camera.expose), call(log.write)), call(dome.close))))),
        once(call(dome.turn, [1])),
        once(call(log.write, ['at 1'])),
      ],
      [['one turn like #1 to #3 is missing: dome.turn(1), camera.expose and log.write', 3]],
    ],
    'the latest of equal turns': [
      ({ dome, camera }) => [1, 1, 1].flatMap((at) => [dome.turn(at), camera.expose(red)]),
      ({ dome, camera }) => [inTurn(loop(2, inTurn(call(dome.turn), call(camera.expose)))), times(2, call(dome.turn)), times(2, call(camera.expose))],
      [['#5 and #6 are one turn too many: dome.turn and camera.expose', 3]],
    ],
    'no turn of calls that came together only once': [
      ({ dome, camera }) => [dome.turn(1), camera.expose(red), dome.turn(9), dome.close()],
      ({ dome }) => [never(call(dome.turn, [9])), never(call(dome.close))],
      [
        ['#3 dome.turn(9) is unexpected: 1 call, expected none', 1],
        ['#4 dome.close() is unexpected: 1 call, expected none', 1],
      ],
    ],
    'no end of the record where a sequence never began': [
      ({ dome, camera, log }) => [dome.open(), log.write('a'), log.write('b'), log.write('c'), log.write('d'), camera.expose(red)],
      ({ dome, camera }) => [inTurn(call(dome.turn), call(dome.close)), once(call(dome.turn)), once(call(dome.close)), times(2, call(camera.expose))],
      [
        ['camera.expose was called once, expected twice; the last is #6 camera.expose', 1],
        ['dome.turn and dome.close are missing', 3],
      ],
    ],
    'any of the calls that came in place of another member’s, if nothing is said of arguments': [
      ({ dome }) => [dome.open(), dome.turn(1), dome.open()],
      ({ dome }) => [once(call(dome.open)), once(call(dome.close))],
      [['one of #1, #3 dome.open was called, expected dome.close', 2]],
    ],
    'no call of another member of which still too many are left': [
      ({ dome }) => [dome.open(), dome.open(), dome.open()],
      ({ dome }) => [once(call(dome.open)), once(call(dome.close))],
      [['dome.close was never called; of dome only dome.open ×3', 1]],
    ],
    'no call of another member, if more is wrong and nothing is said of arguments': [
      ({ dome, log }) => [dome.open(), dome.turn(1), log.write('lost'), dome.open()],
      ({ dome, log }) => [once(call(dome.open)), once(call(dome.close)), never(call(log.write))],
      [
        ['#3 log.write("lost") is unexpected: 1 call, expected none', 1],
        ['#4 dome.open() is unexpected: 2 calls, expected once', 1],
        ['dome.close was never called; of dome only dome.open ×2, dome.turn ×1', 1],
      ],
    ],
    'one call with those that were made in it': [
      ({ dome, log }) => {
        plan(
          call(dome.turn),
          computes(() => log.write('turns')),
        );
        dome.turn(1);
      },
      ({ dome, log }) => [never(call(dome.turn)), never(call(log.write))],
      [['#1 dome.turn(1) is unexpected', 2]],
    ],
    'one turn too many': [
      ({ dome, camera, log }) => [1, 2, 1].flatMap((at) => [dome.turn(at), camera.expose(red), log.write(`at ${at}`)]).concat(dome.close()),
      ({ dome, camera, log }) => [
        inTurn(loop(2, inTurn(call(dome.turn), call(camera.expose), call(log.write)))),
        once(call(dome.turn, [1])),
        once(call(log.write, ['at 1'])),
      ],
      [['#7 to #9 are one turn too many: dome.turn, camera.expose and log.write', 3]],
    ],
  };
  test.each(Object.entries(apart))('is %s', (_, [run, claimsOn, causes]) => {
    const { dome, camera, log } = openLedger({ rules: 'loose', callSites: 0 }).standIns<Devices>();
    const devices = { dome, camera, log };
    run(devices);
    const { verdict } = failure(...claimsOn(devices));
    expect(verdict.causes.map(({ message, explains }) => [message, explains.length])).toEqual(causes);
  });

  test('two faults are two causes, and what one claim alone notices reads as before', () => {
    const { dome, camera, log } = openLedger({ rules: 'loose' }).standIns<Devices>();
    plan(call(camera.expose), gives('frame'));
    const calls = night({ dome, camera, log });
    for (const run of [...calls.slice(0, 5), () => log.write('done')]) run();
    const { message, verdict } = failure(...claimed({ dome, camera, log }), never(call(log.write, ['done'])), times(1, call(log.write, ['stored'])));
    expect(verdict.causes.map(({ alteration, explains }) => [alteration, explains.length])).toEqual([
      ['insert', 2],
      ['drop', 2],
    ]);
    expect(message.split('\n')[0]).toMatch(/^dome\.close is missing after #5 camera\.expose .*; 4 of 12 claims fail$/);
    const alone = failure(once(call(log.write, ['dusk'])));
    expect(alone.message).toMatch(/^log\.write\("dusk"\) was never called; the 2 calls of log\.write have other arguments\n/);
    expect(alone.verdict.causes).toMatchObject([{ alteration: 'insert', explains: [0] }]);
  });

  test('in a loop of thirty calls the wrong one is named, and no call that another claim owns', () => {
    const { dome } = openLedger({ rules: 'loose' }).standIns<Devices>();
    for (let to = 0; to < 30; to++) dome.turn(to === 17 ? 71 : to);
    const each = Array.from({ length: 30 }, (_, to) => once(call(dome.turn, [to])));
    expect(failure(...each).message.split('\n')[0]).toMatch(/^#18 dome\.turn \(.*\): \[0\] expected 17, received 71; 1 of 30 claims fails$/);
    const missing = failure(...each.slice(0, 17), once(call(dome.turn, [33])), once(call(dome.turn, [70])), ...each.slice(18));
    expect(missing.verdict.findings.map(({ message }) => message)).toEqual([
      expect.stringMatching(/^#18 dome\.turn .*expected 33, received 71$/),
      'dome.turn(70) was never called; the 30 calls of dome.turn have other arguments',
    ]);
  });
});

describe('a first line', () => {
  test('tells a near call of the member before the same arguments at another', () => {
    const { camera } = openLedger({ rules: 'loose' }).standIns<Devices>();
    camera.expose({ seconds: 30, filter: 'blue' });
    camera.shoot({ seconds: 30, filter: 'red' });
    expect(failure(once(call(camera.expose, [{ seconds: 30, filter: 'red' }]))).message).toMatch(
      /^#1 camera\.expose \(.*\): \[0\]\.filter expected "red", received "blue"\n[\s\S]*the same arguments went to another member:\n +#2 +camera\.shoot/,
    );
  });

  test('says of branches that none came', () => {
    const { dome, log } = openLedger({ rules: 'loose' }).standIns<Devices>();
    dome.open();
    const message = (...steps: Parameters<typeof either>) => failure(inTurn(call(dome.open), either(...steps))).message.split('\n')[0];
    expect(message(call(dome.close), call(log.write))).toMatch(/^neither dome\.close nor log\.write came after #1 dome\.open/);
    expect(message(call(dome.close), inTurn(call(log.write), call(dome.turn)), call(dome.turn, [3]))).toMatch(
      /^none of dome\.close, log\.write, dome\.turn\(3\) came after #1/,
    );
  });

  test('names the calls that gave undefined below the error of a body that went on with it', async () => {
    const run = (body: (devices: Devices) => void) =>
      withLedger({ rules: 'loose' }, (ledger) => {
        const { dome, camera, log } = ledger.standIns<Devices>();
        plan(call(camera.shoot), gives('frame'));
        body({ dome, camera, log });
      }).catch((error: Error) => error.message);
    const went = run(({ camera, log }) => {
      camera.shoot(red());
      const frame = camera.expose(red());
      log.write('exposed');
      frame.toUpperCase();
    });
    expect(await went).toMatch(
      /^Cannot read properties of undefined \(reading 'toUpperCase'\)\n\nand then: log\.write \(.*alter\.test\.ts:\d+\) has no plan and returned undefined; so did camera\.expose \(.*alter\.test\.ts:\d+\)\n/,
    );
    const misplanned = run(({ camera }) => {
      plan(call(camera.expose, [{ seconds: 1, filter: 'red' }]), gives('frame'));
      camera.expose(red()).toUpperCase();
    });
    expect(await misplanned).toMatch(
      /camera\.expose \(.*\) matches no plan \(there is camera\.expose\(\{ seconds: 1, filter: "red" \}\) gives "frame"\) and returned undefined/,
    );
    const other = run(({ dome }) => {
      dome.open();
      throw new Error('undefined behaviour');
    });
    expect(await other).toBe('undefined behaviour');
  });
});

const red = () => ({ seconds: 30, filter: 'red' });
