// An ordinary test: what it does not call is loaded late. It is given the address of the library.
const { openLedger, call, once, inTurn, check, plan, gives, never, partial, times, fulfils } =
  await import(process.argv[2]);

const ledger = openLedger();
const dome = ledger.standIn('dome');
const camera = ledger.standIn('camera');
const write = ledger.callable('write');
plan(call(camera.expose), fulfils({ id: 'frame 1', seconds: 30 }));
plan(call(write), gives(true));
dome.open();
const frame = await camera.expose({ seconds: 30, filter: 'red' });
write('frames', [frame.id]);
write('frames', 2);
dome.close(90);
check(
  once(call(dome.open)),
  once(call(camera.expose, [{ seconds: 30, filter: 'red' }])),
  never(call(dome.turn)),
  times(2, call(write)),
  once(call(write, ['frames', ['frame 1']])),
  inTurn(call(dome.open), call(camera.expose, [partial({ seconds: 30 })]), call(dome.close)),
);
ledger.close();
