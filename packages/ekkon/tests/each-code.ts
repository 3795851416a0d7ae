import {
  anything,
  ClaimError,
  call,
  callsBack,
  check,
  completed,
  conforms,
  deferred,
  during,
  exactItems,
  fulfils,
  gives,
  inFlight,
  inTurn,
  item,
  type Ledger,
  leadsTo,
  never,
  nothingElse,
  once,
  onlyAfter,
  openLedger,
  plan,
  type Rules,
  reach,
  suchThat,
  times,
} from 'ekkon';
import type { FindingCode, Verdict } from '../src/explain/finding.ts';
import { judgeRead } from '../src/ledger/close.ts';
import { closeLedger } from '../src/ledger/open-ledger.ts';
import { shortValue } from '../src/notation/value.ts';
import { entryData } from '../src/record/entry-data.ts';
import type { Journal } from '../src/record/journal.ts';
import { toLines } from '../src/record/lines.ts';
import { fromLines } from '../src/record/read-lines.ts';
import { tied } from '../src/record/tie.ts';
import { makeVerdict } from '../src/report/verdict.ts';
import { judgementsOn, openJudgements } from '../src/rule/judgements.ts';
import { levelsIn } from '../src/rule/rules.ts';
import { thrownBy } from './failure.ts';

export interface Devices {
  dome: { open(how?: unknown): void; close(): void };
  mount: { slewTo(to: unknown): Promise<void>; park(): Promise<void> };
  camera: { expose(exposure: { seconds: number; filter: string }): Promise<{ id: string }> };
  nightLog: { write(line: string): void };
}

/** A ledger on which something was found, and what. */
export type FoundCase = { readonly ledger: Ledger; readonly verdict: Verdict };

type Break = (devices: Devices, ledger: Ledger) => unknown;

/** The verdict of a test that breaks something: what a check or a wait throws, or what closing finds. */
async function found(rules: Rules, breaks: Break, passed: boolean | undefined = true, reason?: unknown): Promise<FoundCase> {
  const ledger = openLedger({ name: 'a dry night', rules });
  try {
    await breaks(ledger.standIns<Devices>(), ledger);
    const verdict = closeLedger(ledger, passed, { reason });
    return { ledger, verdict };
  } catch (error) {
    if (error instanceof ClaimError) return { ledger, verdict: error.verdict };
    throw error;
  }
}

const exposure = { seconds: 30, filter: 'red' };
const quiet = { base: 'loose' } as const;

/** For every code of finding a small test that is found with it. One that is left out does not compile. */
export const eachCode: { readonly [C in FindingCode]: () => Promise<FoundCase> } = {
  missingCall: () => found('loose', ({ camera }) => [camera.expose({ seconds: 30, filter: 'blue' }), check(once(call(camera.expose, [exposure])))]),
  surplusCall: () => found('loose', ({ dome }) => [dome.open(), dome.open(), check(once(call(dome.open)))]),
  undecidedCall: () =>
    found('loose', ({ dome }) => {
      const broken = suchThat<unknown>(() => {
        throw new Error('no such star');
      }, 'is near');
      dome.open(1);
      check(once(call(dome.open, [broken])));
    }),
  undecidedOrder: () => Promise.resolve(undecidedOrder()),
  alwaysTrueClaim: () => found({ ...quiet, alwaysTrueClaim: 'fail' }, ({ dome }) => [dome.open(), check(times('0..*', call(dome.open)))]),
  vacuousClaim: () => found({ ...quiet, vacuousClaim: 'fail' }, ({ dome }) => [dome.open(), check(leadsTo(call(dome.close), call(dome.open)))]),
  unplannedCall: () =>
    found({ ...quiet, unplannedCall: 'fail' }, ({ dome }) => {
      thrownBy(() => dome.open());
    }),
  unknownMember: () =>
    found('loose', (_, ledger) => {
      class Cover {
        shut() {}
      }
      const cover = ledger.standIn('cover', Cover);
      thrownBy(() => (cover as unknown as { shutt(): void }).shutt());
    }),
  changedSlot: () =>
    found('loose', (_, ledger) => {
      const gauge = { read: () => 1 };
      ledger.takeOver(gauge, 'read', { name: 'gauge' });
      gauge.read = () => 2;
    }),
  drift: () => found('loose', ({ dome }) => [dome.open(), check(conforms(dome, { close() {} }))]),
  outOfOrder: () => found('loose', ({ dome, mount }) => [void mount.park(), dome.open(), check(inTurn(call(dome.open), call(mount.park)))]),
  tooEarly: () => found('loose', ({ dome, mount }) => [void mount.park(), dome.open(), check(onlyAfter(call(mount.park), call(dome.open)))]),
  neverFollowed: () => found('loose', ({ dome }) => [dome.open(), check(leadsTo(call(dome.open), call(dome.close)))]),
  inFlight: () =>
    found('loose', ({ mount }) => {
      plan(call(mount.slewTo), deferred(), deferred());
      void mount.slewTo(1);
      void mount.slewTo(2);
      check(inFlight('0..1', call(mount.slewTo)));
    }),
  unclaimedEntries: () => found('loose', ({ dome }) => [dome.open(), dome.close(), check(once(call(dome.open)), nothingElse(dome))]),
  wrongItems: () =>
    found('loose', async (_, ledger) => {
      const rain = ledger.follow(drops(), 'rain');
      await reach(once(completed(rain)));
      check(exactItems(rain, [0, 0.5]));
    }),
  unclaimedCall: () => found({ ...quiet, unclaimedCall: 'fail' }, ({ dome }) => dome.open()),
  unusedPlan: () =>
    found({ ...quiet, unusedPlan: 'fail' }, ({ camera }) => {
      plan(call(camera.expose, [exposure]), fulfils({ id: 'frame-1' }));
      void camera.expose({ seconds: 60, filter: 'red' });
    }),
  unfinishedCall: () => found({ ...quiet, unfinishedCall: 'fail' }, ({ mount }) => [plan(call(mount.park), deferred()), mount.park()]),
  stillPending: () =>
    found('loose', async ({ mount }, ledger) => {
      plan(call(mount.park), deferred());
      void mount.park();
      await ledger.untilQuiet({ within: 5 });
    }),
  uncheckedClaim: () => found({ ...quiet, uncheckedClaim: 'fail' }, ({ dome }) => [dome.open(), once(call(dome.open))]),
  unawaitedWait: () => found('loose', ({ dome }) => void reach(once(call(dome.open)))),
  nothingChecked: () => found({ ...quiet, nothingChecked: 'fail' }, ({ dome }) => dome.open()),
  changedArgument: () =>
    found({ ...quiet, changedArgument: 'fail' }, ({ dome }) => {
      const how = { far: 1 };
      dome.open(how);
      how.far = 2;
    }),
  callAfterClose: async () => {
    const { ledger } = await found({ ...quiet, callAfterClose: 'note' }, ({ dome }, opened) => [dome.open(), opened.close(), dome.close()]);
    const journal = journalOf(ledger);
    return { ledger, verdict: makeVerdict(journal, judgementsOn(journal).noted, { claims: 0, closing: true }) };
  },
  swallowedCheck: () =>
    found({ ...quiet, swallowedCheck: 'fail' }, ({ dome }) => {
      dome.open();
      thrownBy(() => check(once(call(dome.close))));
    }),
  undecidedPlan: () =>
    found('loose', ({ dome }) => {
      const broken = suchThat<unknown>(() => {
        throw new Error('no such star');
      }, 'is near');
      plan(call(dome.open, [broken]), gives(undefined));
      dome.open(1);
    }),
  failedStream: () =>
    found('loose', async (_, ledger) => {
      const rain = ledger.follow(failing(), 'rain');
      await reach(once(item(rain, anything as never)));
      await new Promise((done) => setTimeout(done));
    }),
  emptyReply: () => found('loose', ({ dome }) => dome.open(), false, new TypeError('cannot read properties of undefined')),
  cutOff: async () => {
    const ledger = openLedger({ name: 'a dry night', rules: 'loose' });
    ledger.standIns<Devices>().dome.open();
    const lines = toLines((tied(ledger) as { journal: Journal }).journal, { show: shortValue, goesOn: true });
    const { journal } = fromLines(lines.join('\n'));
    openJudgements(journal, levelsIn('loose'));
    return { ledger, verdict: judgeRead(journal, [], { last: journal.entries.at(-1) }) };
  },
  brokenReply: () =>
    found('loose', ({ dome }) => {
      plan(call(dome.open), callsBack([1]));
      thrownBy(() => dome.open());
    }),
  notReleased: () =>
    found('loose', (_, ledger) => {
      ledger.follow(
        () => () => {
          throw new Error('still in use');
        },
        'rain',
      );
    }),
};

async function* drops(): AsyncGenerator<number> {
  yield 0;
  yield 0.4;
}

async function* failing(): AsyncGenerator<number> {
  yield 0;
  throw new Error('the sensor is wet');
}

function journalOf(ledger: Ledger): Journal {
  const held = tied(ledger);
  if (held?.is !== 'ledger') throw new TypeError('this is not a ledger');
  return held.journal;
}

/** Two calls whose clocks are of two machines: found where traces are judged. */
function undecidedOrder(): FoundCase {
  const ledger = openLedger({ name: 'a dry night', rules: 'loose' });
  const { dome, mount } = ledger.standIns<Devices>();
  dome.open();
  void mount.park();
  const claim = onlyAfter(call(mount.park), call(dome.open));
  const journal = journalOf(ledger);
  const moments = journal.entries.map((entry) => ({ entry: entryData(entry), end: false }));
  const [one, other] = moments;
  if (one === undefined || other === undefined) throw new RangeError('two calls are needed');
  const diagnosis = {
    code: 'undecidedOrder',
    claim: claim.notation,
    of: claim,
    culprits: [1, 2],
    at: undefined,
    between: [one, other],
    apart: 3,
    skew: 10,
  } as const;
  return { ledger, verdict: makeVerdict(journal, [diagnosis], { claims: 1, closing: false }) };
}

/** Stretches too: a finding that is told of one. */
export const inStretch = (): Promise<FoundCase> =>
  found('loose', ({ dome, mount }) => {
    dome.open();
    void mount.park();
    dome.close();
    check(during({ from: call(dome.open), until: call(dome.close) }, never(call(mount.park))));
  });
