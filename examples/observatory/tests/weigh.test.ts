import { check, openLedger } from 'ekkon';
import { parseClaims } from 'ekkon/claims';
import { weigh } from 'ekkon/weigh';
import { expect, test } from 'vitest';
import { NightRun, stageNight, targets } from '../src/index.ts';

/** What the claims of the dry night notice, and with the first claims that are proposed. */
test('what the claims of a night would not notice is told, and the first claims to add notice most of it', async () => {
  const ledger = openLedger({ name: 'a dry night' });
  const { devices, claims } = stageNight(ledger);
  await new NightRun(devices).run(targets);
  check(claims());
  const before = weigh(ledger);
  expect(before.tooTight).toEqual([]);
  const proposed = [...new Set(before.unnoticed.map(({ claim }) => claim))];
  const first = proposed.slice(0, 3);
  expect(first).toEqual([
    'once camera.cool(-20)',
    'once nightLog.write("night begins", { targets: 2 })',
    // A frame is stored once it is there, and not its promise.
    'after camera.expose until settled camera.expose: never archive.store',
  ]);
  // The weather is only asked: it may be, as often as the night likes.
  expect(proposed.filter((claim) => claim.includes('weather.rain'))).toEqual(['after archive.store until settled archive.store: never weather.rain']);

  check(parseClaims(first.join('\n'), ledger));
  const after = weigh(ledger);
  const percent = (weight: typeof before) => Math.floor((100 * weight.noticed) / weight.questions);
  expect([percent(before), percent(after)]).toEqual([65, 88]);
});
