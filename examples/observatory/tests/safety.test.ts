import {
  type Claim,
  ClaimError,
  call,
  check,
  deferred,
  during,
  gives,
  inFlight,
  inTurn,
  leadsTo,
  never,
  not,
  plan,
  rejects,
  returned,
  settled,
} from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';
import { NightRun, stageNight, type Target, targets } from '../src/index.ts';

/** Safety by order: what must hold on any night, and a mistake that breaks each of it. */
/** What is found if a claim does not hold: the verdict is read, so that the check is not one that was swallowed. */
function findingsOf(claim: Claim): string {
  try {
    check(claim);
  } catch (error) {
    if (error instanceof ClaimError) return error.verdict.findings.map((finding) => `${finding.claim}: ${finding.message}`).join();
    throw error;
  }
  return '';
}

describe('no exposure between rain and clear', () => {
  class IgnoresRain extends NightRun {
    protected override async photograph(all: readonly Target[], stored: string[]): Promise<'done'> {
      for (const target of all) {
        this.devices.weather.rain();
        stored.push(await this.photographOne(target));
      }
      return 'done';
    }
  }

  test.for([
    ['a night run that stops', NightRun, ''],
    [
      'one that goes on',
      IgnoresRain,
      'after returned weather.rain with not(0) until returned weather.rain with 0: never camera.expose: #11 camera.expose',
    ],
  ] as const)('%s', async ([, Run, report], { ledger }) => {
    const { devices } = stageNight(ledger);
    plan(call(devices.weather.rain), gives(0), gives(0), gives(2.5), gives(0));
    await new Run(devices).run(targets);

    const rain = call(devices.weather.rain);
    const dry = during({ from: returned(rain, not(0)), until: returned(rain, 0) }, never(call(devices.camera.expose)));
    if (report === '') check(dry);
    else expect(findingsOf(dry)).toContain(report);
  });
});

describe('at most two frames in flight to the archive', () => {
  class Floods extends NightRun {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { camera, archive } = this.devices;
      void archive.store(await camera.expose({ seconds, filter, at }));
      return 'on its way';
    }
  }

  test.for([
    ['a night run that waits', NightRun, ''],
    ['one that does not', Floods, 'in flight 0..2 archive.store: #16 archive.store'],
  ] as const)('%s', async ([, Run, report], { ledger }) => {
    const { devices } = stageNight(ledger);
    const stored = deferred<string>();
    if (Run === Floods) plan(call(devices.archive.store), stored);
    await new Run(devices).run([...targets, ...targets]);

    const few = inFlight('0..2', call(devices.archive.store));
    if (report === '') check(few);
    else expect(findingsOf(few)).toContain(report);
    stored.fulfil('kept');
  });
});

test.for(['slewTo', 'park'] as const)('the dome is closed last, whatever fails: %s', async (failing, { ledger }) => {
  const { devices } = stageNight(ledger);
  const { dome, mount } = devices;
  plan(call(mount[failing]), rejects(new Error('stuck')));
  await new NightRun(devices).run(targets).catch(() => undefined);
  check(inTurn(call(dome.open), settled(call(mount.park)), call(dome.close)), leadsTo(call(dome.open), call(dome.close)));
});
