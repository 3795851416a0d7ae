import {
  about,
  type Claim,
  call,
  deferred,
  exactItems,
  fulfilled,
  gives,
  inTurn,
  item,
  type Ledger,
  never,
  plan,
  reach,
  times,
} from 'ekkon';
import { type RainWatchDevices, watchRain } from './rain-watch.ts';

/** A rain watch, with or without a mistake in it. */
export type RainWatch = typeof watchRain;

/**
 * A night on which it begins to rain: the sensor reads nothing twice, and then a drop; the mount takes its time to
 * park. Returns the claims on it.
 */
export async function stageRain(
  ledger: Ledger,
  watch: RainWatch = watchRain,
): Promise<() => readonly Claim[]> {
  const { dome, mount, alarm, nightLog } = ledger.standIns<RainWatchDevices>();
  let send: ReadableStreamDefaultController<number> | undefined;
  const [followed, watched] = new ReadableStream<number>({
    start(controller) {
      send = controller;
    },
  }).tee();
  const rain = ledger.follow(followed, 'rain');
  const parked = deferred();
  plan(call(mount.park), parked);
  plan(call(dome.close), gives(undefined));

  void watch(watched, { dome, mount, alarm, nightLog });
  send?.enqueue(0);
  send?.enqueue(0);
  await reach(times('2..*', item(rain, 0)));
  send?.enqueue(0.4);
  await reach(times('1..*', call(mount.park)));
  parked.fulfil();
  await ledger.untilQuiet();

  return () => [
    inTurn(item(rain, about(0.4)), call(mount.park), fulfilled(call(mount.park)), call(dome.close)),
    exactItems(rain, [0, 0, 0.4]),
    never(call(alarm.sound)),
  ];
}
