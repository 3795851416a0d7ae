import {
  type Claim,
  call,
  during,
  fulfils,
  gives,
  inFlight,
  inTurn,
  type Ledger,
  never,
  once,
  plan,
  settled,
  times,
} from 'ekkon';
import type { Devices } from './devices.ts';
import { targets } from './targets.ts';

/** Stand-ins for all devices of a dry night on which everything works, and its claims. */
export function stageNight(ledger: Ledger): {
  readonly devices: Devices;
  readonly claims: () => readonly Claim[];
} {
  const { dome, mount, camera, weather, archive, alarm, nightLog } = ledger.standIns<Devices>();
  const [first, second] = targets;

  plan(call(weather.rain), gives(0));
  plan(call(mount.slewTo), fulfils(undefined));
  plan(call(mount.park), fulfils(undefined));
  plan(
    call(camera.expose),
    fulfils({ id: 'frame-1', seconds: first.seconds }),
    fulfils({ id: 'frame-2', seconds: second.seconds }),
  );
  plan(call(archive.store), fulfils('kept/frame-1'), fulfils('kept/frame-2'));
  plan(call(archive.setAside), fulfils('aside/frame'));

  const exposureOf = ({ seconds, filter, at }: typeof first) => ({ seconds, filter, at });
  const claims = () => [
    once(call(dome.open)),
    once(call(dome.close)),
    once(call(mount.slewTo, [first.at.ra, first.at.dec])),
    once(call(mount.slewTo, [second.at.ra, second.at.dec])),
    times(2, call(camera.expose)),
    once(call(camera.expose, [exposureOf(first)])),
    once(call(camera.expose, [exposureOf(second)])),
    once(call(archive.store, [{ id: 'frame-1', seconds: first.seconds }])),
    once(call(archive.store, [{ id: 'frame-2', seconds: second.seconds }])),
    times('1..*', call(weather.rain)),
    never(call(alarm.sound)),
    during(
      { from: call(mount.slewTo), until: settled(call(mount.slewTo)) },
      never(call(camera.expose)),
    ),
    inTurn(call(dome.open), settled(call(mount.park)), call(dome.close)),
    inFlight('0..2', call(archive.store)),
    once(call(nightLog.write, ['night ends', { stored: 2 }])),
  ];
  return { devices: { dome, mount, camera, weather, archive, alarm, nightLog }, claims };
}
