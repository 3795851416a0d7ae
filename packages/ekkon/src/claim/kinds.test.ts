import { expect, test } from 'vitest';
import { openLedger } from '../ledger/open-ledger.ts';
import { call } from '../pattern/call.ts';
import { fulfilled } from '../pattern/ends.ts';
import type { Claim } from '../record/claim-type.ts';
import { conforms } from './conforms.ts';
import { never, once, times } from './count.ts';
import { during } from './during.ts';
import { exactItems } from './exact-items.ts';
import { inFlight } from './in-flight.ts';
import { claimOf, type HeldClaim, sameClaim } from './kinds.ts';
import { nothingElse } from './nothing-else.ts';
import { either, inAnyOrder, inTurn, loop, optional, unbroken } from './order/steps.ts';
import { leadsTo, onlyAfter } from './precedence.ts';

test('a claim is the same as one that is written anew, and as no other', () => {
  const ledger = openLedger({ rules: 'loose' });
  const { dome, mount } = ledger.standIns<{ dome: { open(to?: number): void }; mount: { slewTo(ra: number): Promise<void> } }>();
  const rain = ledger.follow<number>(() => () => {}, 'rain');
  const [dusk, dawn, real, other] = [ledger.mark('dusk'), ledger.mark('dawn'), { open() {} }, { open() {} }];
  const [a, b] = [() => call(dome.open), () => call(mount.slewTo)];
  const written: readonly (() => Claim)[] = [
    ...[() => once(a()), () => never(a()), () => times(2, a()), () => times('0..2', a()), () => once(b()), () => once(fulfilled(b()))],
    ...[() => once(call(dome.open, [1])), () => once(call(dome.open, [2])), () => onlyAfter(a(), b()), () => onlyAfter(b(), a())],
    ...[() => leadsTo(a(), b()), () => leadsTo(b(), a()), () => inTurn(a(), b()), () => inTurn(b(), a()), () => inTurn(a(), optional(b()))],
    ...[
      () => inTurn(loop(2, a()), b()),
      () => inTurn(loop(3, a()), b()),
      () => inTurn(inAnyOrder(a(), b())),
      () => inTurn(either(a(), b())),
      () => inTurn(unbroken(a(), b())),
    ],
    ...[() => inFlight(1, b()), () => inFlight(2, b()), () => inFlight(1, a()), () => exactItems(rain, [1]), () => exactItems(rain, [2])],
    ...[() => nothingElse(dome), () => nothingElse(mount), () => nothingElse(ledger), () => conforms(dome, real), () => conforms(dome, other)],
    ...[() => during({ from: a() }, once(b())), () => during({ from: a() }, never(b())), () => during({ from: b() }, once(b()))],
    ...[() => during({ until: a() }, once(b())), () => during({ from: dusk }, once(b())), () => during({ from: dawn }, once(b()))],
    ...[() => during({ from: a(), until: b() }, once(b())), () => during({ from: a(), until: b(), endedOnly: true }, once(b()))],
    ...[() => during({ from: a() }, inTurn(b(), a())), () => during({ from: a() }, inTurn(a(), b()))],
  ];
  const again = written.map((write) => claimOf(write()) as HeldClaim);
  for (const [at, write] of written.entries()) {
    const claim = claimOf(write()) as HeldClaim;
    const same = again.flatMap((other, place) => (sameClaim(claim, other) ? [place] : []));
    expect([claim.notation, same]).toEqual([claim.notation, [at]]);
  }
});
