import {
  about,
  call,
  check,
  completed,
  deferred,
  exactItems,
  failed,
  fulfilled,
  fulfils,
  gives,
  inTurn,
  item,
  type Ledger,
  never,
  nothingElse,
  once,
  plan,
  reach,
  stays,
  times,
} from 'ekkon';
import { test as base } from 'ekkon/vitest';
import { type RainWatchDevices, watchRain } from '../src/index.ts';

const test = base.extend({ ledgerOptions: { rules: 'strict' } });

/** A sensor that sends what the test says, to the watch and to the ledger. */
function sensor(ledger: Ledger) {
  let send!: ReadableStreamDefaultController<number>;
  // The first branch hears of each item first.
  const [followed, watched] = new ReadableStream<number>({
    start(controller) {
      send = controller;
    },
  }).tee();
  return { send, watched, rain: ledger.follow(followed, 'rain') };
}

function devices(ledger: Ledger): RainWatchDevices {
  const { dome, mount, alarm } = ledger.standIns<RainWatchDevices>();
  const nightLog = ledger.standIn<RainWatchDevices['nightLog']>('nightLog', undefined, { rules: 'loose' });
  plan(once(call(dome.close)), gives(undefined));
  return { dome, mount, alarm, nightLog };
}

test('the dome stays open while it is dry, and closes with the first drop, once the mount is parked', async ({ ledger }) => {
  const { send, watched, rain } = sensor(ledger);
  const parts = devices(ledger);
  const { dome, mount, alarm } = parts;
  const parked = deferred();
  plan(call(mount.park), parked);
  const watch = watchRain(watched, parts);

  send.enqueue(0);
  send.enqueue(0);
  await reach(times(2, item(rain, 0)));
  await stays(never(call(dome.close)), { for: 5 });

  send.enqueue(0.4);
  await reach(once(call(mount.park)));
  check(never(call(dome.close)));
  parked.fulfil();
  await watch;

  check(
    inTurn(item(rain, about(0.4)), call(mount.park), fulfilled(call(mount.park)), call(dome.close)),
    never(call(alarm.sound)),
    exactItems(rain, [0, 0, 0.4]),
    nothingElse(dome, mount, alarm, rain),
  );
});

test('the dome closes where the sensor fails, and the alarm says why', async ({ ledger }) => {
  const { send, watched, rain } = sensor(ledger);
  const parts = devices(ledger);
  const { dome, mount, alarm } = parts;
  plan(call(mount.park), fulfils(undefined));
  plan(call(alarm.sound), gives(undefined));

  send.error(new Error('the sensor is wet'));
  await watchRain(watched, parts);

  check(
    inTurn(call(alarm.sound, ['the sensor is wet']), fulfilled(call(mount.park)), call(dome.close)),
    once(failed(rain, new Error('the sensor is wet'))),
  );
});

test('the watch ends with the night', async ({ ledger }) => {
  const { send, watched, rain } = sensor(ledger);
  const { dome, mount, alarm, nightLog } = ledger.standIns<RainWatchDevices>();
  send.enqueue(0);
  send.close();
  await watchRain(watched, { dome, mount, alarm, nightLog });
  await reach(once(completed(rain)));
  check(exactItems(rain, [0]), never(call(dome.close)), never(call(mount.park)));
});
