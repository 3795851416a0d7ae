import {
  anything,
  call,
  computes,
  during,
  fulfilled,
  inFlight,
  inTurn,
  leadsTo,
  loop,
  never,
  once,
  onlyAfter,
  openLedger,
  partial,
  plan,
  settled,
  times,
} from 'ekkon';

const lots = {
  morning: [
    { id: 'p-1', code: 'N4' },
    { id: 'p-2', code: 'S1' },
    { id: 'p-3', code: '??' },
    { id: 'p-4', code: 'N7' },
  ],
  noon: [
    { id: 'p-5', code: 'W2' },
    { id: 'p-6', code: 'S8' },
    { id: 'p-7', code: 'S1' },
  ],
};
const grams = {
  'p-1': 300,
  'p-2': 1_200,
  'p-3': 450,
  'p-4': 7_500,
  'p-5': 900,
  'p-6': 6_100,
  'p-7': 40,
};
const addresses = {
  N4: { street: 'Quay 4', zone: 'north' },
  N7: { street: 'Hill 7', zone: 'north' },
  S1: { street: 'Mill 1', zone: 'south' },
  S8: { street: 'Dyke 8', zone: 'south' },
  W2: { street: 'Gate 2', zone: 'west' },
};

/** Lets some turns of the microtask queue go by, as work would that takes a while, and gives a value. */
async function turns(count, value) {
  for (let left = count; left > 0; left--) await undefined;
  return value;
}

/** How long each piece of work takes, if nothing else is said. */
const asEver = (count) => count;

/**
 * The depot's stand-ins with their plans.
 *
 * @param scaleName the name of the scale
 * @param slowed how many turns work takes, instead of its usual number
 */
export function stageShift(
  ledger = openLedger({ name: 'shift' }),
  scaleName = 'scale',
  slowed = asEver,
) {
  const takes = (count, value) => turns(slowed(count), value);
  const scale = ledger.standIn(scaleName);
  const { gate, lamp, belt, directory, fees, lift, printer, bins, vans, books, post } =
    ledger.standIns();
  const done = ledger.callable('done');
  const depot = {
    gate,
    lamp,
    belt,
    scale,
    directory,
    fees,
    lift,
    printer,
    bins,
    vans,
    books,
    post,
    done,
  };
  const plans = [
    [belt.unload, (lot) => takes(1, lots[lot] ?? [])],
    [belt.stop, () => takes(1)],
    [scale.weigh, (id) => takes(1, grams[id])],
    [directory.find, findAddress],
    [fees.charge, ({ grams: weight }) => takes(2, 100 + Math.ceil(weight / 100))],
    [lift.raise, () => takes(3)],
    [printer.feed, () => takes(2)],
    [bins.put, () => takes(1)],
    [vans.load, (_, ids) => takes(2 * (ids?.length ?? 1))],
    [vans.depart, () => takes(2)],
  ];
  for (const [member, run] of plans) plan(call(member), computes(run));
  return { ledger, depot, lots: Object.keys(lots) };
}

async function findAddress(code) {
  await turns(2);
  if (addresses[code] === undefined) throw new Error(`nobody lives at ${code}`);
  return addresses[code];
}

/** The claims of a careful tester on a shift. */
export function claimsOn({
  gate,
  lamp,
  belt,
  scale,
  directory,
  fees,
  lift,
  printer,
  bins,
  vans,
  books,
  post,
  done,
}) {
  return [
    inTurn(
      call(gate.open),
      call(belt.unload, ['morning']),
      call(belt.unload, ['noon']),
      call(belt.stop),
      call(gate.close),
    ),
    inTurn(
      call(books.write, ['shift begins', { lots: 2 }]),
      loop(2, call(books.write, ['lot done', partial({ parcels: 3 })])),
      call(books.write, ['shift ends', anything]),
    ),
    once(call(books.write, ['lot done', { lot: 'morning', parcels: 3 }])),
    once(call(books.write, ['lot done', { lot: 'noon', parcels: 3 }])),
    once(call(books.write, ['shift ends', { parcels: 6, cents: 761, heavy: 2 }])),
    once(call(books.write, ['unknown address', { id: 'p-3', reason: 'nobody lives at ??' }])),
    times(7, call(scale.weigh)),
    times(6, fulfilled(call(directory.find))),
    times(6, call(fees.charge)),
    ...[
      ['p-1', 300, 'north'],
      ['p-4', 7_500, 'north'],
      ['p-6', 6_100, 'south'],
    ].map(([id, weight, zone]) => once(call(fees.charge, [{ id, grams: weight, zone }]))),
    once(call(lift.raise, ['p-4', { kilos: 7.5 }])),
    once(call(lift.raise, ['p-6', { kilos: 6.1 }])),
    times(6, call(printer.feed)),
    once(call(printer.feed, [{ id: 'p-2', to: { street: 'Mill 1', zone: 'south' }, paid: 112 }])),
    once(call(printer.feed, [partial({ id: 'p-5', paid: 109 })])),
    once(call(bins.put, ['returns', 'p-3'])),
    times(2, call(bins.put, ['north', anything])),
    times(3, call(bins.put, ['south', anything])),
    once(call(bins.put, ['west', 'p-5'])),
    inFlight('0..1', call(fees.charge)),
    inFlight('0..2', call(vans.load)),
    during({ from: call(lift.raise), until: settled(call(lift.raise)) }, never(call(printer.feed))),
    onlyAfter(
      call(vans.depart, ['north', anything]),
      fulfilled(call(vans.load, ['north', anything])),
    ),
    onlyAfter(
      call(vans.depart, ['west', anything]),
      fulfilled(call(vans.load, ['west', anything])),
    ),
    leadsTo(call(printer.feed, [partial({ id: 'p-7' })]), call(bins.put, ['south', 'p-7'])),
    leadsTo(call(vans.load, ['west', anything]), call(post.notify, ['p-5', 'on its way'])),
    once(call(vans.load, ['north', ['p-1', 'p-4']])),
    once(call(vans.load, ['south', ['p-6', 'p-7']])),
    times(4, call(vans.depart)),
    once(call(vans.depart, ['north', { parcels: 2, express: true }])),
    once(call(vans.depart, ['west', { parcels: 1, express: false }])),
    times(6, call(post.notify)),
    ...['p-1', 'p-2', 'p-4', 'p-7'].map((id) => once(call(post.notify, [id, 'on its way']))),
    inTurn(
      call(lamp.show, ['green']),
      loop(2, inTurn(call(lamp.show, ['yellow']), call(lamp.show, ['green']))),
      call(lamp.show, ['off']),
    ),
    inTurn(call(lamp.show, ['off']), call(gate.close), call(done, [6])),
    never(call(post.notify, ['p-3', anything])),
    once(call(done, [6])),
  ];
}
