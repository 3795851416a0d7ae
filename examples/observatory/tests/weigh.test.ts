import { call, check, during, never, once, openLedger, settled } from 'ekkon';
import { weigh } from 'ekkon/weigh';
import { expect, test } from 'vitest';
import { NightRun, stageNight, targets } from '../src/index.ts';

/** What the claims of the dry night notice, and with three more. */
test('what the claims of a night would not notice is told, and three more claims notice most of it', async () => {
  const ledger = openLedger({ name: 'a dry night' });
  const { devices, claims } = stageNight(ledger);
  await new NightRun(devices).run(targets);
  const { camera, archive, nightLog } = devices;
  check(claims());
  const before = weigh(ledger);
  expect(before.tooTight).toEqual([]);
  expect(before.unnoticed.map(({ claim }) => claim)).toContain('once nightLog.write("night begins", { targets: 2 })');

  const more = [
    once(call(nightLog.write, ['night begins', { targets: 2 }])),
    once(call(camera.cool, [-20])),
    // A frame is stored once it is there, and not its promise.
    during({ from: call(camera.expose), until: settled(call(camera.expose)) }, never(call(archive.store))),
  ];
  check(more);
  const after = weigh(ledger);
  const percent = (weight: typeof before) => Math.floor((100 * weight.noticed) / weight.questions);
  expect([percent(before), percent(after)]).toEqual([65, 88]);
  expect(after.unnoticed.map(({ claim }) => claim)).toEqual(
    expect.arrayContaining(['times 3 weather.rain(no arguments)', 'after archive.store until settled archive.store: never weather.rain']),
  );
});
