/** One shift of a made-up mail depot: parcels are weighed, charged, labelled, sorted and sent off in vans. */
export async function runShift(depot, lots) {
  const { gate, lamp, belt, books, vans, post, done } = depot;
  gate.open();
  lamp.show('green');
  books.write('shift begins', { lots: lots.length });
  const totals = { parcels: 0, cents: 0, heavy: 0 };
  for (const lot of lots) {
    const parcels = await belt.unload(lot);
    const shelf = [];
    for (const parcel of parcels) {
      const sorted = await sortParcel(depot, parcel, totals);
      if (sorted !== undefined) shelf.push(sorted);
    }
    const zones = [...new Set(shelf.map(({ zone }) => zone))].sort();
    await Promise.all(
      zones.map(async (zone) => {
        const ids = shelf.filter((each) => each.zone === zone).map(({ id }) => id);
        await vans.load(zone, ids);
        await vans.depart(zone, { parcels: ids.length, express: zone === 'north' });
        for (const id of ids) post.notify(id, 'on its way');
      }),
    );
    books.write('lot done', { lot, parcels: shelf.length });
  }
  await belt.stop();
  lamp.show('off');
  gate.close();
  books.write('shift ends', totals);
  done(totals.parcels);
}

async function sortParcel(
  { scale, directory, fees, lift, lamp, printer, bins, books },
  parcel,
  totals,
) {
  const grams = await scale.weigh(parcel.id);
  let address;
  try {
    address = await directory.find(parcel.code);
  } catch (error) {
    books.write('unknown address', { id: parcel.id, reason: error.message });
    await bins.put('returns', parcel.id);
    return undefined;
  }
  if (grams > 5_000) {
    lamp.show('yellow');
    await lift.raise(parcel.id, { kilos: grams / 1_000 });
    lamp.show('green');
    totals.heavy += 1;
  }
  const cents = await fees.charge({ id: parcel.id, grams, zone: address.zone });
  totals.cents += cents;
  totals.parcels += 1;
  const label = { id: parcel.id, to: { street: address.street, zone: address.zone }, paid: cents };
  await printer.feed(label);
  await bins.put(address.zone, parcel.id);
  return { id: parcel.id, zone: address.zone };
}
