import { expect, test } from 'vitest';
import { failure } from '../../tests/failure.ts';
import { never, once, times } from '../claim/count.ts';
import { exactItems } from '../claim/exact-items.ts';
import { inTurn, loop } from '../claim/order/steps.ts';
import { leadsTo, onlyAfter } from '../claim/precedence.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { anything } from '../match/anything.ts';
import { partial } from '../match/partial.ts';
import { instanceOf } from '../match/type-of.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, returned } from '../pattern/ends.ts';
import { writes } from '../pattern/properties.ts';
import { plan } from '../plan/plan.ts';
import { computes, gives, type Reply } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';

interface Devices {
  log: { write(...words: unknown[]): void };
  dome: { turn(to: unknown): void; open(): void };
  mount: { slewTo(to: unknown): void; track(to: unknown): void };
}

/** Six turns of a loop, after some of which calls were moved, dropped or made again. */
function turns({ dome, log }: Devices, faulty: (at: number) => void): void {
  for (let at = 1; at <= 6; at++) {
    if (at === 3) faulty(at);
    else [dome.turn(at), log.write(`at ${at}`)];
  }
}

const inLoop = ({ dome, log }: Devices) => [inTurn(loop('1..*', inTurn(call(dome.turn), call(log.write))))];

/** What was called, what was claimed, and the sentences that are told, in their order. */
const told: Readonly<Record<string, readonly [(devices: Devices) => unknown, (devices: Devices) => readonly Claim[], readonly string[]]>> = {
  'no call that agrees in an argument which most calls have': [
    ({ log }) => [log.write('jam', 'info'), log.write('done', 'info')],
    ({ log }) => [once(call(log.write, ['begins', 'info']))],
    ['log.write("begins", "info") was never called; the 2 calls of log.write have other arguments'],
  ],
  'a call that agrees in one which tells calls apart': [
    ({ log }) => [log.write('jam', 'info'), log.write('done', 'info')],
    ({ log }) => [once(call(log.write, ['done', 'error']))],
    ['#2 log.write: [1] expected "error", received "info"'],
  ],
  'the only call of a member, whatever its arguments': [
    ({ log }) => [log.write({ at: 1 })],
    ({ log }) => [once(call(log.write, ['begins']))],
    ['#1 log.write: [0] expected "begins", received { at: 1 }'],
  ],
  'each missing call once, if a wide and a narrow pattern want it': [
    ({ log }) => [log.write('begins'), log.write('ends')],
    ({ log }) => [
      inTurn(call(log.write, ['begins']), loop(2, call(log.write, ['done', anything])), call(log.write, ['ends'])),
      once(call(log.write, ['done', 1])),
      once(call(log.write, ['done', 2])),
    ],
    [
      'log.write("done", anything) is missing between #1 log.write and #2 log.write, twice',
      '2 calls are missing: log.write("done", 1) and log.write("done", 2)',
    ],
  ],
  'two calls of a loop that changed places': [
    (all) => turns(all, (at) => [all.log.write(`at ${at}`), all.dome.turn(at)]),
    inLoop,
    ['#6 dome.turn came too late: expected before #5 log.write'],
  ],
  'the call that a turn of a loop lacks, and no call that is as it should be': [
    (all) => turns(all, (at) => all.dome.turn(at)),
    inLoop,
    ['log.write is missing between #5 dome.turn and #6 dome.turn'],
  ],
  'the call that a turn of a loop has once too often': [
    (all) => turns(all, (at) => [all.dome.turn(at), all.log.write('twice'), all.log.write('twice')]),
    inLoop,
    ['#7 log.write("twice") is unexpected'],
  ],
  'no call of which two arguments are others, beside one of which one is': [
    ({ log }) => [log.write('north', 30), log.write('south', 135), log.write('north', 30)],
    ({ log }) => [once(call(log.write, ['north', 30])), once(call(log.write, ['south', 90]))],
    ['#2 log.write: [1] expected 90, received 135', '#3 log.write("north", 30) is unexpected: 2 calls, expected once'],
  ],
  'a missing call by what is said of it, and none of another member in its place': [
    ({ dome }) => [dome.turn(1), dome.turn(2), dome.open(), dome.turn(1)],
    ({ dome }) => [times(4, call(dome.turn)), once(call(dome.turn, [3])), never(call(dome.open))],
    ['#3 dome.open() is unexpected: 1 call, expected none', 'dome.turn(3) is missing'],
  ],
  'a call that is missing where its arguments were heard, though others of its member came later': [
    ({ dome, log }) => [log.write('ask Brim', 1), dome.open(), log.write('ask Cove', 1)],
    ({ dome, log }) => [times(3, call(log.write)), once(call(log.write, ['ask Brim', 2])), never(call(dome.open))],
    ['log.write("ask Brim", 2) is missing', '#2 dome.open() is unexpected: 1 call, expected none'],
  ],
  'none that is expected as it is, if another claim lacks a call of its kind': [
    ({ log }) => [log.write('again', 1), log.write('opened', 5), log.write('opened', 7), log.write('closed', 5)],
    ({ log }) => [
      times(2, call(log.write, ['again', anything])),
      once(call(log.write, ['again', 4])),
      inTurn(call(log.write, ['opened', anything]), call(log.write, ['closed', anything])),
    ],
    ['log.write("again", 4) is missing', '#3 log.write("opened", 7) is unexpected'],
  ],
  'calls of one member that never came, together with what was to come after one of them': [
    ({ log, mount }) => [log.write('a'), log.write('b'), mount.track({ at: 3 })],
    ({ log, dome, mount }) => [
      inTurn(call(log.write, ['a']), call(dome.turn, [1])),
      inTurn(returned(call(log.write, ['b'])), call(dome.turn, [2])),
      onlyAfter(call(mount.track), fulfilled(call(dome.turn, [2]))),
    ],
    ['dome.turn was never called'],
  ],
  'the calls of its own order on either side of a missing one': [
    ({ log, mount }) => [log.write('a'), mount.track(1), log.write('x'), log.write('c')],
    ({ log, mount }) => [
      inTurn(call(log.write, ['a']), call(log.write, ['b']), call(log.write, ['c'])),
      times(4, call(log.write)),
      once(call(mount.track, [2])),
    ],
    ['log.write("b") is missing between #1 log.write and #4 log.write', '#2 mount.track: [0] expected 2, received 1'],
  ],
  'a call of another member of its double, though one with the same arguments is missing elsewhere': [
    ({ mount }) => [mount.slewTo(7)],
    ({ mount, log }) => [once(call(mount.track, [7])), once(call(log.write, [7]))],
    ['#1 mount.slewTo was called, expected mount.track with these arguments', 'log.write was never called'],
  ],
  'calls that nobody wants, not as many missing ones': [
    ({ log }) => ['northern', 'northern', 'southern', 'southern', 'southern'].map((word, at) => log.write(word, at)),
    ({ log }) => [times(2, call(log.write, ['north', anything])), times(3, call(log.write, ['south', anything]))],
    ['#1 log.write: [0] expected "north", received "northern"', '#3 log.write: [0] expected "south", received "southern"'],
  ],
  'what came too late as such, and no other call in its place': [
    ({ log, dome }) => [log.write('south', 1), dome.turn(1), log.write('north', 1)],
    ({ log, dome }) => [onlyAfter(call(dome.turn), call(log.write, ['north', anything])), once(call(dome.turn))],
    ['#2 dome.turn came before #3 log.write, expected after it'],
  ],
  'the call that is one too many where its own finding does': [
    ({ log }) => [log.write(1), log.write(2), log.write(3)],
    ({ log }) => [times(2, call(log.write)), once(call(log.write, [4]))],
    ['#3 log.write(3) is unexpected: 3 calls, expected twice', 'log.write(4) was never called; the 3 calls of log.write have other arguments'],
  ],
  'what is missing no earlier than the next call of its member, and what is too much where that came': [
    ({ dome, mount, log }) => [log.write('goes', 'south'), dome.open(), mount.slewTo(2), dome.turn('west'), dome.turn('east'), dome.open()],
    ({ dome, mount }) => [once(call(dome.open)), once(call(dome.turn, ['south'])), once(call(mount.slewTo, [1]))],
    [
      '#3 mount.slewTo: [0] expected 1, received 2',
      'dome.turn("south") was never called; the 2 calls of dome.turn have other arguments',
      '#6 dome.open() is unexpected: 2 calls, expected once',
    ],
  ],
  'what is missing at the call that first has its argument': [
    ({ dome, mount, log }) => [dome.turn('north'), mount.slewTo(2), log.write({ to: 'south' })],
    ({ dome, mount }) => [once(call(dome.turn, ['north'])), once(call(dome.turn, ['south'])), once(call(mount.slewTo, [1]))],
    ['#2 mount.slewTo: [0] expected 1, received 2', 'dome.turn("south") was never called; the only call of dome.turn has other arguments'],
  ],
  'no single turn if several are missing': [
    ({ dome, mount }) => [dome.turn(1), mount.slewTo(1)],
    ({ dome, mount }) => [times(3, call(dome.turn)), times(3, call(mount.slewTo))],
    [
      'dome.turn was called once, expected 3 times; the last is #1 dome.turn',
      'mount.slewTo was called once, expected 3 times; the last is #2 mount.slewTo',
    ],
  ],
  'no drop of a call of which more are expected': [
    ({ dome }) => [dome.turn(1)],
    ({ dome }) => [never(call(dome.turn, [1])), never(call(dome.turn)), times(2, call(dome.turn))],
    [
      '#1 dome.turn(1) is unexpected: 1 call, expected none',
      '#1 dome.turn(1) is unexpected: 1 call, expected none',
      'dome.turn was called once, expected twice; the last is #1 dome.turn',
    ],
  ],
  'of too many the one that nobody else expects': [
    ({ dome }) => [dome.turn(1), dome.turn(3), dome.turn(2)],
    ({ dome }) => [once(call(dome.turn, [1])), once(call(dome.turn, [2])), times(2, call(dome.turn))],
    ['#2 dome.turn(3) is unexpected: 3 calls, expected twice'],
  ],
  'of calls with other differences the one that differs least from what partial asks for': [
    ({ dome }) => [dome.turn({ id: 'p-1', paid: 5, by: 1 }), dome.turn({ id: 'p-5', paid: 6, by: 1 })],
    ({ dome }) => [once(call(dome.turn, [partial({ id: 'p-5', paid: 109 })]))],
    ['#2 dome.turn: [0].paid expected 109, received 6'],
  ],
  'what nobody can see in a text': [
    ({ log }) => [log.write('night\u00a0ends')],
    ({ log }) => [once(call(log.write, ['night ends']))],
    ['#1 log.write: [0] expected "night ends", received "night\u00a0ends", which looks the same but has U+00A0 instead of U+0020'],
  ],
  'the one that repeats an earlier call': [
    ({ dome }) => [dome.turn(1), dome.turn(2), dome.turn(1), dome.turn(3)],
    ({ dome }) => [times(3, call(dome.turn))],
    ['#3 dome.turn(1) is unexpected: 4 calls, expected 3 times'],
  ],
  'as many calls as each of two claims misses, and none for both': [
    ({ log }) => ['Quay', 'Mill', 'Hill', 'Gate'].map((street, at) => log.write(street, at)),
    ({ log }) => ['north', 'south'].map((zone) => times(2, call(log.write, [zone, anything]))),
    ['#1 log.write: [0] expected "north", received "Quay"', '#3 log.write: [0] expected "south", received "Hill"'],
  ],
  'the call that a claim of more arguments describes better': [
    ({ log }) => ['p-1', 'p-5', 'p-2', 'p-5'].map((id) => log.write(id, id === 'p-5' ? 'west' : 'north')),
    ({ log }) => [times(2, call(log.write, ['south', anything])), times(2, call(log.write, ['west', 'p-5']))],
    ['#1 log.write: [0] expected "south", received "p-1"', '#2 log.write: arguments 1 and 2 are swapped: "p-5", "west"'],
  ],
  'no call that another claim expects as the one that had to come before': [
    ({ dome, mount }) => [mount.track(1), dome.open()],
    ({ dome, mount }) => [once(call(mount.track, [1])), onlyAfter(call(dome.open), call(mount.track, [2]))],
    ['#2 dome.open came, and mount.track(2) never did'],
  ],
  'too few calls by their number, if the others agree in nothing but what may be anything': [
    ({ log }) => [log.write(1, { seconds: 45, filter: 'red' }), log.write(2, { seconds: 5, filter: 'clear' })],
    ({ log }) => [times(2, call(log.write, [anything, { seconds: 45, filter: 'red' }]))],
    ['log.write(anything, { seconds: 45, filter: "red" }) was called once, expected twice; the last is #1 log.write'],
  ],
  'a promise in place of an object as not awaited': [
    ({ log }) => [log.write('m31', Promise.resolve({ filter: 'red' }))],
    ({ log }) => [once(call(log.write, ['m31', partial({ filter: 'red' })]))],
    ['#1 log.write: [1] expected partial({ filter: "red" }), received ‹Promise›, not awaited'],
  ],
  'a call with the arguments of a later step as wrong, not as out of place': [
    ({ log, dome }) => [log.write('drain', 1), dome.open(), dome.turn(1), dome.turn(2), log.write('fill', 1)],
    ({ log, dome }) => [
      inTurn(call(log.write, ['fill', 1]), call(dome.open), call(dome.turn, [1]), call(dome.turn, [2]), call(log.write, ['drain', 1])),
    ],
    ['#1 log.write: [0] expected "fill", received "drain"'],
  ],
  'the first problem of a sequence, whichever kind it is': [
    ({ log, dome }) => [log.write('a'), log.write('a'), dome.open(), dome.turn(1), log.write('b')],
    ({ log, dome }) => [inTurn(call(log.write, ['a']), call(dome.open), call(log.write, ['b']), call(dome.turn, [1]))],
    ['#2 log.write("a") is unexpected'],
  ],
  'too few calls where the last of them is': [
    ({ log, mount }) => [mount.track(1), log.write('x'), mount.slewTo(9), mount.track(2)],
    ({ mount }) => [times(3, call(mount.track)), once(call(mount.slewTo, [1]))],
    ['#3 mount.slewTo: [0] expected 1, received 9', 'mount.track was called twice, expected 3 times; the last is #4 mount.track'],
  ],
  'one missing call for two claims that want other parts of it': [
    ({ log }) => [log.write({ lot: 41, of: 'north' }, 1), log.write({ lot: 42, of: 'south' }, 1)],
    ({ log }) => [once(call(log.write, [partial({ lot: 41 }), 2])), times(2, call(log.write, [{ lot: 41, of: 'north' }, anything]))],
    ['log.write(partial({ lot: 41 }), 2) is missing'],
  ],
  'what is missing for two claims no earlier than both allow': [
    ({ dome, log, mount }) => [log.write('lost'), mount.slewTo(2), dome.turn('ny')],
    ({ log, mount }) => [times(2, call(log.write)), once(call(log.write, ['hot', { at: 'ny' }])), once(call(mount.slewTo, [1]))],
    ['#2 mount.slewTo: [0] expected 1, received 2', 'log.write("hot", { at: "ny" }) is missing'],
  ],
  'too few calls by their number, if fewer others came than are missing': [
    ({ log }) => [log.write('sent', 1), log.write('sent', 2), log.write('lost', 3)],
    ({ log }) => [times(4, call(log.write, ['sent', anything]))],
    ['log.write("sent", anything) was called twice, expected 4 times; the last is #2 log.write'],
  ],
  'calls of a member as missing that a claim on all of them counts, though one may have gone wrong': [
    ({ log }) => [log.write(1, 'a'), log.write(2, 'b')],
    ({ log }) => [times(4, call(log.write)), once(call(log.write, [1, 'a'])), once(call(log.write, [3, 'b']))],
    ['2 calls of log.write are missing'],
  ],
  'no call as wrong beside one that is much nearer': [
    ({ log }) => [log.write('retry', 1, { attempt: 0 }), log.write('retry', 1, { attempt: 1 }), log.write('sent', 2, { attempt: 0 })],
    ({ log }) => [once(call(log.write, ['retry', 1, anything])), once(call(log.write, ['sent', 2, { attempt: 1 }]))],
    ['#2 log.write("retry", 1, { attempt: 1 }) is unexpected: 2 calls, expected once', '#3 log.write: [2].attempt expected 1, received 0'],
  ],
  'no other member whose call is expected there': [
    ({ mount }) => [mount.track(3)],
    ({ dome, mount }) => [once(call(dome.turn, [3])), once(call(mount.track, [3]))],
    ['dome.turn was never called'],
  ],
  'a sequence that lacks a step in the middle, and another member, as two': [
    ({ dome, mount }) => [dome.turn(1), mount.track(1)],
    ({ dome, mount, log }) => [
      inTurn(call(dome.turn), call(mount.slewTo), call(mount.track)),
      once(call(mount.slewTo)),
      once(call(log.write)),
      times('1..*', call(log.write)),
    ],
    ['mount.slewTo is missing between #1 dome.turn and #2 mount.track', 'log.write was never called'],
  ],
  'no call of another kind that others name, though the rest comes near': [
    ({ log }) => [log.write('typing', 's3', { of: 'bob', on: true }), log.write('typing', 's1', { of: 'ann', on: true })],
    ({ log }) => [once(call(log.write, ['typing', 's1', { of: 'ann', on: true }])), once(call(log.write, ['joined', 's3', { of: 'bob' }]))],
    ['log.write("joined", "s3", { of: "bob" }) was never called; the 2 calls of log.write have other arguments'],
  ],
  'no call of a kind that comes again, if no claim names it': [
    ({ log }) => [log.write('typing', 's3', { on: true }), log.write('typing', 's2', { on: true })],
    ({ log }) => [once(call(log.write, ['refused', 's4', { reason: 'full' }]))],
    ['log.write("refused", "s4", { reason: "full" }) was never called; the 2 calls of log.write have other arguments'],
  ],
  'a call of another kind, if the rest of it is as expected': [
    ({ log }) => [log.write('receipt', 'cat', { why: 'none' }), log.write('receipt', 'ann', { cents: 1 })],
    ({ log }) => [once(call(log.write, ['declined', 'cat', { why: 'none' }])), once(call(log.write, ['receipt', 'ann', { cents: 1 }]))],
    ['#1 log.write: [0] expected "declined", received "receipt"'],
  ],
  'no step as wrong that is of a kind which others name': [
    ({ log, dome }) => [log.write('said', 1), log.write('typing', 2), dome.open(), log.write('said', 1), log.write('said', 2), dome.open()],
    ({ log, dome }) => [
      inTurn(loop(2, inTurn(loop(2, call(log.write, ['said', anything])), call(dome.open)))),
      times('0..1', call(log.write, ['typing', 7])),
    ],
    ['log.write("said", anything) is missing between #1 log.write and #3 dome.open'],
  ],
  'the first of equal calls that are all wrong in the same way': [
    ({ log }) => [log.write('sky'), log.write('sky'), log.write('sky')],
    ({ log }) => [times(3, call(log.write, ['sky', 20]))],
    ['#1 log.write: [1] expected 20, received nothing'],
  ],
  'the first of several that came too late': [
    ({ log, dome }) => [1, 2].map(() => [log.write('a'), log.write('b'), dome.open()]),
    ({ log, dome }) => [inTurn(loop(2, inTurn(call(dome.open), loop(2, call(log.write)))))],
    ['#3 dome.open came too late: expected before #1 log.write'],
  ],
  'the first of several that came too early, and what it was to come after': [
    ({ log, dome }) => [1, 2].map(() => [dome.open(), log.write('a')]),
    ({ log, dome }) => [inTurn(loop(2, inTurn(call(log.write), call(dome.open))))],
    ['#1 dome.open came too early: expected after #2 log.write'],
  ],
  'the first of several ends that came too late': [
    ({ log, mount }) => {
      plan(
        call(mount.slewTo),
        computes(() => [log.write('a'), log.write('b'), log.write('c')][0]),
      );
      for (const to of [1, 2]) mount.slewTo(to);
    },
    ({ log, mount }) => [inTurn(loop(2, inTurn(call(mount.slewTo), returned(call(mount.slewTo)), loop(3, call(log.write)))))],
    ['#1 mount.slewTo returned too late: expected before #2 log.write'],
  ],
  'arguments that are swapped beside one that may be anything': [
    ({ log }) => [log.write('done', 'two'), log.write('three', 'lost')],
    ({ log }) => [once(call(log.write, [anything, 'done']))],
    ['#1 log.write: arguments 1 and 2 are swapped: "done", "two"'],
  ],
  'no call that has nothing of what tells calls apart': [
    ({ log }) => [log.write({ name: 'two', size: 3, of: 'h-x' }), log.write({ name: 'three', size: 8, of: 'h-q' })],
    ({ log }) => [once(call(log.write, [{ name: 'one', size: 10, of: 'h-a' }])), once(call(log.write, [partial({ name: 'two' })]))],
    ['log.write({ name: "one", size: 10, of: "h-a" }) was never called; the 2 calls of log.write have other arguments'],
  ],
  'a call that has most of what tells calls apart': [
    ({ log }) => [log.write({ name: 'one', size: 1, at: 'a' }), log.write({ name: 'two', size: 2, at: 'b' })],
    ({ log }) => [once(call(log.write, [{ name: 'one', size: 1, of: 'a' }]))],
    ['#1 log.write: [0].of expected "a", received nothing; [0].at expected nothing, received "a"'],
  ],
  'too few calls by their number, beside others that agree in what half of them have': [
    ({ log }) => [log.write('rose', 0), log.write('fern', 0), log.write('moss', 0), log.write('rose', 100), log.write('fern', 100)],
    ({ log }) => [times(2, call(log.write, ['moss', 0]))],
    ['log.write("moss", 0) was called once, expected twice; the last is #3 log.write'],
  ],
  'a call with a text that others expect of another member': [
    ({ log, dome }) => [log.write('shut', 1, 'x'), dome.turn('shut')],
    ({ log, dome }) => [once(call(dome.turn, ['shut'])), once(call(log.write, ['open', 1, 'y']))],
    ['#1 log.write: [0] expected "open", received "shut"; [2] expected "y", received "x"'],
  ],
  'swapped arguments beside a wrong one': [
    ({ log }) => [log.write('x', 'sky', 9), log.write('y', 'sea', 8)],
    ({ log }) => [once(call(log.write, ['sky', 'x', 7]))],
    ['#1 log.write: arguments 1 and 2 are swapped: "x", "sky"; [2] expected 7, received 9'],
  ],
  'the later of two equal calls of which one is too many, in time': [
    ({ dome, mount }) => [dome.open(), mount.slewTo(9), dome.open()],
    ({ dome, mount }) => [once(call(dome.open)), times('0..1', call(dome.open)), once(call(mount.slewTo, [1]))],
    ['#2 mount.slewTo: [0] expected 1, received 9', 'one of #1, #3 dome.open is unexpected'],
  ],
  'what a call was to come after, though a later one like it is in its place': [
    ({ log, dome }) => [dome.open(), log.write('a'), log.write('b'), dome.open()],
    ({ log, dome }) => [inTurn(call(log.write, ['a']), call(dome.open), call(log.write, ['b']), call(dome.open))],
    ['#1 dome.open came too early: expected after #2 log.write'],
  ],
  'a call with a part of the expected text': [
    ({ log }) => [log.write('p1'), log.write('p2')],
    ({ log }) => [once(call(log.write, ['product:p1'])), once(call(log.write, ['product:p2']))],
    ['#1 log.write: [0] expected "product:p1", received "p1"', '#2 log.write: [0] expected "product:p2", received "p2"'],
  ],
  'wrong calls, not as many missing ones, if a few came less': [
    ({ log }) => [log.write('sky'), log.write('sky')],
    ({ log }) => [times(3, call(log.write, ['sky', 20])), inTurn(loop(3, call(log.write, ['sky', 20])))],
    ['#1 log.write: [1] expected 20, received nothing', '#1 log.write: [1] expected 20, received nothing'],
  ],
  'what is missing of one form, and no turn of calls of another': [
    ({ log, dome }) => {
      for (const to of [1, 2]) [log.write({ type: 'moves', to }), dome.turn({ type: 'moves', to })];
    },
    ({ log, dome }) => [log.write, dome.turn].map((of) => once(call(of, [{ type: 'ends', winner: null, points: 3 }]))),
    ['log.write', 'dome.turn'].map(
      (label) => `${label}({ type: "ends", winner: null, points: 3 }) was never called; the 2 calls of ${label} have other arguments`,
    ),
  ],
  'what is missing of one kind, and no turn of calls of another': [
    ({ log, dome }) => {
      for (const to of ['p1', 'p2']) [log.write('join', to), dome.turn(to)];
    },
    ({ log, dome }) => [times(2, call(log.write, ['join', anything])), once(call(log.write, ['close', 'r1', 0])), times(3, call(dome.turn))],
    [
      'dome.turn was called twice, expected 3 times; the last is #4 dome.turn',
      'log.write("close", "r1", 0) was never called; the 2 calls of log.write have other arguments',
    ],
  ],
  'no call as wrong where too few came, whatever their arguments': [
    ({ dome }) => [dome.turn('a.fits'), dome.turn('b.fits')],
    ({ dome }) => [once(call(dome.turn, ['d.fits'])), times(4, call(dome.turn))],
    [
      'dome.turn was called twice, expected 4 times; the last is #2 dome.turn',
      'dome.turn("d.fits") was never called; the 2 calls of dome.turn have other arguments',
    ],
  ],
  'no call of another double that the same line makes elsewhere': [
    ({ dome, mount }) => {
      for (const to of ['a', 'b']) mount.slewTo(to);
      dome.open();
    },
    ({ dome }) => [inTurn(call(dome.turn, ['b']), call(dome.open))],
    ['dome.turn("b") is missing before #3 dome.open'],
  ],
  'a call that came before what it follows, not one that nobody asks for': [
    ({ dome, log }) => [log.write('ends', 3), dome.open()],
    ({ dome, log }) => [leadsTo(call(dome.open), call(log.write)), once(call(log.write, ['ends', 3]))],
    ['#1 log.write came at the wrong place: expected after #2 dome.open'],
  ],
  'a call that went wrong, though more are missing': [
    ({ dome, log }) => [log.write('b', 0, '1234'), log.write('b', 5, '6789'), log.write('e', 0, 'hell'), dome.open()],
    ({ dome, log }) => [
      inTurn(call(log.write, ['b', 0, '1234']), call(log.write, ['b', 4, '5678']), call(log.write, ['b', 8, '9']), call(dome.open)),
      times(2, call(log.write, ['e', anything, anything])),
    ],
    [
      '#2 log.write: [1] expected 4, received 5; [2] expected "5678", received "6789"',
      'log.write("e", anything, anything) was called once, expected twice; the last is #3 log.write',
    ],
  ],
  'what is missing before a call that went wrong, before that': [
    ({ log }) => [log.write('a', 1), log.write('main', '23'), log.write('z', 1)],
    ({ dome, log }) => [inTurn(call(log.write, ['a', 1]), call(dome.turn, [1]), call(log.write, ['main', '28']), call(log.write, ['z', 1]))],
    ['dome.turn(1) is missing between #1 log.write and #2 log.write'],
  ],
  'calls that were given what got lost': [
    ({ dome }) => [dome.turn(1), dome.turn(undefined), dome.turn(3)],
    ({ dome }) => [1, 2, 3].map((to) => once(call(dome.turn, [to]))),
    ['#2 dome.turn: [0] expected 2, received undefined'],
  ],
  'each of a few missing calls': [
    ({ dome }) => [dome.turn('a'), dome.turn('b')],
    ({ dome }) => [...['a', 'b'].map((to) => once(call(dome.turn, [to]))), ...[1, 2, 3].map((to) => once(call(dome.turn, [{ to }])))],
    ['3 calls are missing: dome.turn({ to: 1 }), dome.turn({ to: 2 }) and 1 more'],
  ],
  'as many calls as steps are missing as wrong, however little they are like these': [
    ({ dome, log }) => [log.write('a'), dome.turn(1), log.write('c'), log.write('e')],
    ({ dome, log }) => [
      onlyAfter(call(dome.turn), call(log.write, ['b'])),
      inTurn(...['b', 'd', 'e'].map((each) => call(log.write, [each]))),
      once(call(dome.turn)),
    ],
    ['#1 log.write: [0] expected "b", received "a"', '#1 log.write: [0] expected "b", received "a"'],
  ],
  'a call by an object of its own that is as expected, beside one that is like a matcher': [
    ({ log }) => [log.write('no single', { position: 1 }), log.write(new Error('jammed')), log.write(null, { position: 3 })],
    ({ log }) => [once(call(log.write, [instanceOf(Error), { position: 1 }]))],
    ['#1 log.write: [0] expected instanceOf(Error), received "no single"'],
  ],
  'a call by objects of its own that are as expected': [
    ({ log }) => [log.write('bill', ['Ada', '440.00'], { copies: 1 }), log.write('bill', ['Bea', '440.00'], { copies: 2 })],
    ({ log }) => [inTurn(call(log.write, ['bill', ['Ada', '171.50'], { copies: 1 }]))],
    ['#1 log.write: [1][1] expected "171.50", received "440.00"'],
  ],
  'a call from which one argument is left out': [
    ({ log }) =>
      [
        { room: 101, price: 165 },
        { room: 102, price: 50 },
      ].map((found) => log.write(found)),
    ({ log }) => [once(call(log.write, [null, { room: 102, price: 50 }]))],
    ['#2 log.write: [0] expected null, received { room: 102, price: 50 }; [1] expected { room: 102, price: 50 }, received nothing'],
  ],
  'a call that was given the object which has what is expected': [
    ({ dome }) => [{ id: 'd-1' }, { id: 'd-2' }].map((to) => dome.turn(to)),
    ({ dome }) => [once(call(dome.turn, ['d-2']))],
    ['#2 dome.turn: [0] expected "d-2", received { id: "d-2" }'],
  ],
  'the call that differs in less, where others have the other values': [
    ({ log }) => [log.write('bill', ['Ada', '171.50'], { copies: 2 }), log.write('bill', ['Bea', '440.00'], { copies: 1 })],
    ({ log }) => [once(call(log.write, ['bill', ['Bea', '440.00'], { copies: 2 }]))],
    ['#2 log.write: [2].copies expected 2, received 1'],
  ],
  'the steps of one member that are missing at one place': [
    ({ log }) => [log.write('vip'), log.write('till')],
    ({ log }) => [inTurn(...['vip', 'wait', 'manager', 'till'].map((each) => call(log.write, [each]))), times(4, call(log.write))],
    ['log.write("wait") and log.write("manager") are missing between #1 log.write and #2 log.write'],
  ],
};

test.each(Object.entries(told))('names %s', (_, [run, claimsOn, sentences]) => {
  const { log, dome, mount } = openLedger({ rules: 'loose' }).standIns<Devices>();
  const devices = { log, dome, mount };
  run(devices);
  const { message: report, verdict } = failure(...claimsOn(devices));
  const { findings, causes } = verdict;
  const groups = findings.flatMap(({ message }, at) => {
    const cause = causes.find(({ explains }) => explains.includes(at));
    const sentence = cause === undefined ? message : cause.explains[0] === at ? cause.message : undefined;
    return sentence === undefined ? [] : [withoutPlaces(sentence)];
  });
  expect([withoutPlaces(report).split('\n')[0]?.split('; ')[0], groups]).toEqual([sentences[0]?.split('; ')[0], sentences]);
});

function withoutPlaces(sentence: string): string {
  return sentence.replaceAll(/ \(packages\/[^()]*(?:\)|…)/g, '');
}

test('tells of writes by their values', () => {
  const lamp = openLedger({ rules: 'loose', callSites: 0 }).standIn<{ color: string }>('lamp');
  for (const color of ['white', 'off']) lamp.color = color;
  const written = (color: string) => writes(lamp, 'color', color);
  const said = [once(written('red')), inTurn(written('green'), written('off'))].map((claim) => failure(claim).verdict.findings[0]?.message);
  expect(said).toEqual([
    'a write of lamp.color with "red" never came; the 2 writes of lamp.color have other values',
    '#1 lamp.color: [0] expected "green", received "white"',
  ]);
});

test('tells what an item may come of before the item that is missing', () => {
  const ledger = openLedger({ rules: 'loose', callSites: 0 });
  const { dome } = ledger.standIns<Devices>();
  let emit = (_: number) => {};
  const turned = ledger.follow<number>((each) => {
    emit = each;
    return () => {};
  }, 'turned');
  emit(1);
  dome.turn(5);
  emit(3);
  const { findings } = failure(exactItems(turned, [1, 2, 3]), once(call(dome.turn, [2]))).verdict;
  expect(findings.map(({ code }) => code)).toEqual(['missingCall', 'wrongItems']);
});

test('tells last what holds only because something never occurred', () => {
  const { log, dome } = openLedger({ rules: 'careful', callSites: 0 }).standIns<Devices>();
  log.write('lot 4');
  dome.turn(5);
  const { findings } = failure(leadsTo(call(log.write, ['lot 5']), call(dome.open)), once(call(dome.turn, [6]))).verdict;
  expect(findings.map(({ code }) => code)).toEqual(['missingCall', 'vacuousClaim']);
});

test('names all calls of one place in the code, if exactly as many are too many', () => {
  const { log } = openLedger({ rules: 'loose' }).standIns<Devices>();
  for (const boat of ['Heron', 'Otter', 'Swan']) {
    log.write('paid', boat);
    if (boat !== 'Otter') log.write('paid', boat);
  }
  const unexpected = (most: number) => failure(times(most, call(log.write, ['paid', anything]))).verdict.findings[0]?.culprits;
  expect([unexpected(2), unexpected(3), unexpected(4)]).toEqual([[1, 3, 4], [2, 5], [5]]);
});

type Dome = { read(at: unknown): unknown; park(): void; turn(to: unknown): void };

const nothing = computes(() => undefined);
const asksWest = (dome: Dome) => dome.read('west');

test.each<[string, Reply<unknown>, unknown, boolean, ((dome: Dome) => unknown)?]>([
  ['NaN', gives(Number.NaN), Number.NaN, true],
  ['a number', gives(101), 101, true],
  ['a text', gives('p-4'), 'p-4', true],
  ['undefined where more was to be computed', computes((at) => (at === 'west' ? undefined : 7)), undefined, true],
  ['undefined of the only member that computed nothing', nothing, undefined, true],
  ['undefined of one of two members that computed nothing', nothing, undefined, false, (dome) => [dome.park(), dome.read('west')]],
  ['undefined of a member that was given undefined', nothing, undefined, false, (dome) => dome.read({ at: [undefined] })],
  ['undefined that was planned', gives(undefined), undefined, false],
  ['a small number', gives(3), 3, false],
  ['a yes or no', gives(true), true, false],
  ['another value', gives(102), 101, false],
])('says which earlier call returned what was received instead: %s', (_, reply, received, isTold, ask = asksWest) => {
  const { dome } = openLedger({ rules: 'loose', callSites: 0 }).standIns<{ dome: Dome }>();
  plan(call(dome.read), reply);
  plan(call(dome.park), nothing);
  ask(dome);
  dome.turn(received);
  dome.read('east');
  const returned = /#\d dome\.read\(.*\) had returned/;
  expect(returned.test(failure(once(call(dome.turn, [77]))).message)).toBe(isTold);
});
