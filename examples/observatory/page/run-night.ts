import {
  account,
  type Claim,
  ClaimError,
  call,
  check,
  computes,
  type Entry,
  type Ledger,
  openLedger,
  plan,
} from 'ekkon';
import {
  type Devices,
  faults,
  NightRun,
  simulateDevices,
  stageNight,
  targets,
} from '../src/index.ts';

/** What a night left behind, as the page shows it. */
export interface Night {
  readonly entries: readonly Entry[];
  /** The report where a claim does not hold, else the list of claims that do. */
  readonly report: string;
  readonly holds: boolean;
  readonly account: string;
}

/** How many times faster than real devices the page's ones are. */
const speed = 4;

/** Once bundled, a call site would name a line of the bundle, which tells nobody anything. */
const callSites = import.meta.env.DEV ? 256 : 0;

/**
 * Runs a night on simulated devices that take time, through stand-ins that record every call.
 *
 * @param fault the name of a mistake to switch on; `undefined`: none
 * @param watch is given the entries so far, every time there are more or one has ended
 */
export async function runNight(
  fault: string | undefined,
  watch: (entries: readonly Entry[]) => void,
): Promise<Night> {
  const ledger = openLedger({ name: fault ?? 'a dry night', callSites });
  const { devices, claims } = stageNight(ledger);
  answerFrom(simulateDevices({ speed }), devices);
  const night = faults.find(({ name }) => name === fault)?.make(devices) ?? new NightRun(devices);
  const timer = setInterval(() => watch(ledger.entries()), 100);
  try {
    await night.run(targets);
  } finally {
    clearInterval(timer);
  }
  return { entries: ledger.entries(), account: account(ledger), ...judged(ledger, claims()) };
}

/** Plans every member of the stand-ins that takes time to do what the simulated device does. */
function answerFrom(simulated: Devices, { mount, camera, archive }: Devices): void {
  plan(
    call(mount.slewTo),
    computes((ra: number, dec: number) => simulated.mount.slewTo(ra, dec)),
  );
  plan(
    call(mount.park),
    computes(() => simulated.mount.park()),
  );
  plan(
    call(camera.expose),
    computes((exposure) => simulated.camera.expose(exposure)),
  );
  plan(
    call(archive.store),
    computes((frame) => simulated.archive.store(frame)),
  );
  plan(
    call(archive.setAside),
    computes((frame) => simulated.archive.setAside(frame)),
  );
}

function judged(ledger: Ledger, claims: readonly Claim[]): Pick<Night, 'report' | 'holds'> {
  try {
    check(claims);
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    return { holds: false, report: error.message };
  }
  return { holds: true, report: `all ${claims.length} claims hold · ledger "${ledger.name}"` };
}
