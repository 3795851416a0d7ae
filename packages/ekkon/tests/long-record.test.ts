import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, expect, test } from 'vitest';
import { judgeFile } from '../src/cli/judge-file.ts';
import { levelsIn } from '../src/rule/rules.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 5);
const folder = mkdtempSync(join(tmpdir(), 'ekkon-long-'));
afterAll(() => rmSync(folder, { recursive: true }));

type Call = readonly [member: string, argument?: unknown, state?: string];

/** The calls of a night with so many frames. */
function night(frames: number): Call[] {
  const turns = Array.from({ length: frames }, (_, at): readonly Call[] => [
    ...(at % 50 === 0 ? [['mount.slew', { ra: at }] as const] : []),
    ['camera.expose', { seconds: 30 + (at % 3) }],
    ['archive.store', { id: `frame-${at}` }],
    ...(at % 100 === 99 ? [['guide.pause'] as const, ['camera.calibrate', at] as const, ['guide.resume'] as const] : []),
  ]);
  return [['dome.open'], ...turns.flat(), ['dome.close']];
}

/** What a program may do wrong: it changes the calls from one of them on. */
const faults: Readonly<Record<string, (calls: Call[], at: number, call: Call) => unknown>> = {
  none: () => undefined,
  'a call is left out': (calls, at) => calls.splice(at, 1),
  'a call comes twice': (calls, at, call) => calls.splice(at, 0, call),
  'two calls change places': (calls, at) => calls.splice(at, 2, ...calls.slice(at, at + 2).reverse()),
  'a call comes much later': (calls, at, call) => calls.splice(at + 150, 0, ...calls.splice(at, 1), call),
  'a call fails': (calls, at, [member, argument]) => calls.splice(at, 1, [member, argument, 'rejected']),
  'an argument is lost': (calls, at, [member]) => calls.splice(at, 1, [member, { seconds: 99 }]),
  'a member is not called any more': (calls, at, [member]) => calls.splice(at, 1e9, ...calls.slice(at).filter(([each]) => each !== member)),
  'a member is never called': (calls, _, [member]) => calls.splice(0, 1e9, ...calls.filter(([each]) => each !== member)),
};

const claims = `once dome.open
once dome.close
never camera.expose(partial({ seconds: 99 }))
never camera.expose(partial({ seconds: 30 }))
once archive.store({ id: "frame-7" })
once archive.store({ id: "frame--7" })
times 200..300 fulfilled archive.store
never rejected camera.expose
archive.store only after camera.expose
camera.expose only after mount.slew
camera.expose only after dome.close
once guide.pause({ id: "frame-9" })
mount.slew only after guide.resume
camera.expose leads to archive.store
mount.slew leads to archive.store({ id: "frame-60" })
dome.open leads to dome.close
in flight 0..2 camera.expose
in flight 0..1 archive.store
in turn 1..* (camera.expose › archive.store)
in turn 1..* (camera.expose › archive.store(partial({ id: anything })))
in turn dome.open › 1..* (0..1 mount.slew › camera.expose › archive.store › 0..1 (guide.pause › camera.calibrate › guide.resume)) › dome.close
in turn dome.open › 1..* (camera.expose › archive.store) › guide.pause
after dome.open until dome.close: in turn 1..* (camera.expose › archive.store)
after dome.open until dome.close: never camera.expose(partial({ seconds: 30 }))
after dome.open until dome.close: once archive.store({ id: "frame--7" })
after dome.open until dome.close: mount.slew only after guide.resume
after guide.pause until guide.resume: once camera.calibrate
after mount.slew until mount.slew: times 50 camera.expose
before dome.close: once dome.open
nothing else on camera`.split('\n');

/** What is not counted to the end of a long record. */
const uncounted = /(at least |and )+\d+ more|(at least )?\d+ calls? in the stretch|(?<= in the stretch); the .*/g;

/** A ledger file with some calls, each expose under way during the next call. */
function save(calls: readonly Call[]): string {
  const lines: object[] = [{ ekkon: 'ledger', version: 1, name: 'night', opened: 0 }];
  for (const double of ['dome', 'camera', 'archive', 'mount', 'guide']) lines.push({ double, is: 'stand-in' });
  let [tick, late] = [0, 0];
  const end = (ends: number, state = 'fulfilled') => lines.push({ tick: ++tick, ends, at: 0, state, value: 1 });
  calls.forEach(([label, argument, state], at) => {
    const args = argument === undefined ? [] : [argument];
    lines.push({
      tick: ++tick,
      begins: at + 1,
      label,
      of: label.split('.'),
      kind: 'call',
      at: 0,
      args,
      site: ['src/night.ts', 40 + label.length, 3],
    });
    if (late > 0) end(late);
    late = label === 'camera.expose' && state === undefined ? at + 1 : 0;
    if (late === 0) end(at + 1, state);
  });
  lines.push({ closes: 'ledger', entries: calls.length });
  const path = join(folder, 'night.jsonl');
  writeFileSync(path, lines.map((line) => JSON.stringify(line)).join('\n'));
  return path;
}

/** Calls that other claims want, one before the claim held, what came at the end, or elsewhere, a guarded call that never came. */
const examples: [number, string, number, string[]][] = [
  [400, 'none', 0, ['-7', ...Array.from({ length: 10 }, (_, at) => 10 * at + 7)].map((id) => `once archive.store({ id: "frame-${id}" })`)],
  [400, 'none', 0, ['mount.slew leads to archive.store({ id: "frame-60" })']],
  [400, 'none', 0, ['camera.expose only after dome.close', 'once guide.pause({ id: "frame-9" })']],
  [400, 'a member is never called', 0.004, claims.slice(0, 9)],
];

/** Explained in memory, while it is judged, and as it is read again. */
const ways = [
  { entries: 1e6, seeks: 0 },
  { entries: 0, seeks: Number.POSITIVE_INFINITY },
  { entries: 0, seeks: Number.NEGATIVE_INFINITY },
];

test('a record that is judged as it is read is told of as one in memory', () => {
  const kinds = fc.constantFrom(...Object.keys(faults));
  const places = fc.double({ min: 0, max: 0.999, noNaN: true });
  fc.assert(
    fc.property(fc.integer({ min: 380, max: 480 }), kinds, places, fc.subarray(claims, { minLength: 1 }), (frames, fault, place, some) => {
      const calls = night(frames);
      const at = Math.floor(place * calls.length);
      faults[fault]?.(calls, at, calls[at] ?? ['dome.open']);
      const path = save(calls);
      const told = ways.map((limits) => {
        const text = { text: some.join('\n'), file: 'night.claims' };
        const { findings } = judgeFile(path, 'night', text, levelsIn('careful'), false, limits).verdict;
        return findings.map(({ claim, message }) => `${claim}: ${message.replaceAll(uncounted, '')}`).sort();
      });
      expect(told.slice(1)).toEqual([told[0], told[0]]);
    }),
    { numRuns: examples.length + runs, examples },
  );
}, 600_000);
