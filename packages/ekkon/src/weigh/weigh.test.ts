import { parseClaims } from 'ekkon/claims';
import { weigh } from 'ekkon/weigh';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { forAllAsync } from '../../tests/for-all.ts';
import { claimFor, claims, moves, type Played, played } from '../../tests/random-claims.ts';
import { alterationsOf } from '../alter/alterations.ts';
import { type Change, changedEvents, recordedEvents } from '../alter/change.ts';
import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { type Claim, call, check, computes, fulfilled, gives, inTurn, never, once, openLedger, plan, settled, times } from '../index.ts';
import { Follower, type Judged } from '../judge/follower.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 300);

/** How claims stand on a changed record, each judged from its start. */
function judgedAnew({ journal, evidence }: Played, held: readonly Claim[], change: Change): Judged {
  const all = held.map((claim) => {
    const follower = new Follower(claimOf(claim) as HeldClaim);
    for (const { entry, end, tick } of changedEvents(recordedEvents(journal), change)) follower.take(entry, end, tick);
    return follower.judged(evidence);
  });
  return all.includes('fails') ? 'fails' : all.includes('undecided') ? 'undecided' : 'holds';
}

const everything = { counts: () => true, isReal: () => false };

test('a record weighs what altering and judging it by brute force says, and each proposed claim notices its alteration', async () => {
  let [weighed, proposals] = [0, 0];
  await forAllAsync(runs, fc.array(claims, { minLength: 1, maxLength: 4 }), fc.array(moves, { minLength: 2, maxLength: 8 }), async (told, made) => {
    const parts = played();
    const { journal } = parts;
    for (const move of made) await parts.play(move);
    const held = told.map((each) => claimFor(parts, each)).filter((claim) => judgedAnew(parts, [claim], { without: [], added: [] }) === 'holds');
    if (held.length === 0) return;
    weighed++;
    const questions = new Map<string, boolean>();
    const unnoticed: string[] = [];
    const changes = new Map<string, Change>();
    for (const { alteration, entry, path, change } of alterationsOf(journal, recordedEvents(journal), everything)) {
      const judged = judgedAnew(parts, held, change);
      if (judged === 'undecided') continue;
      const question = JSON.stringify([entry.target.label, alteration, path]);
      questions.set(question, (questions.get(question) ?? true) && judged === 'fails');
      changes.set(`${alteration} ${entry.id}`, change);
      if (judged === 'holds') unnoticed.push(`${alteration} ${entry.id}`);
    }
    const weight = weigh(parts.ledger, ...held);
    const said = `${held.map(({ notation }) => notation).join('; ')} after ${made.join(', ')}`;
    expect([said, weight.questions, weight.noticed]).toEqual([said, questions.size, [...questions.values()].filter(Boolean).length]);
    const listed = weight.unnoticed.map(({ alteration, entry }) => `${alteration} ${entry}`);
    expect([said, listed.filter((each) => !unnoticed.includes(each))]).toEqual([said, []]);
    for (const { alteration, entry, claim } of weight.unnoticed) {
      if (claim === '') continue;
      proposals++;
      const added = parseClaims(claim, parts.ledger);
      expect([said, claim, judgedAnew(parts, added, { without: [], added: [] })]).toEqual([said, claim, 'holds']);
      expect([said, claim, judgedAnew(parts, added, changes.get(`${alteration} ${entry}`) as Change)]).toEqual([said, claim, 'fails']);
    }
  });
  expect(weighed).toBeGreaterThan(runs / 4);
  expect(proposals).toBeGreaterThan(runs / 4);
}, 60_000);

interface Devices {
  mount: { slewTo(ra: number): Promise<void> };
  camera: { expose(exposure: { seconds: number; at: Date }): string };
  log: { write(line: string, more?: () => void): void };
}

describe('weigh', () => {
  async function night() {
    const ledger = openLedger({ name: 'a short night', rules: 'loose' });
    const { mount, camera } = ledger.standIns<Devices>();
    const log = ledger.standIn<Devices['log']>('log', undefined, { rules: 'loose' });
    plan(call(camera.expose), gives('frame'));
    plan(call(mount.slewTo), gives(Promise.resolve()));
    await mount.slewTo(3);
    for (const seconds of [30, 60]) camera.expose({ seconds, at: new Date(0) });
    log.write('done', () => {});
    return { ledger, mount, camera, log };
  }

  test('tells what nobody would notice, with claims that would, those that notice most first', async () => {
    const { ledger, mount, camera } = await night();
    const { questions, noticed, unnoticed, tooTight } = weigh(ledger, once(call(mount.slewTo)), times(2, call(camera.expose)));
    // Both members: dropped and repeated; the arguments: one, and two of the camera's; the exposure moved before the slew.
    expect([questions, noticed, tooTight]).toEqual([8, 4, []]);
    const both = ['30', '60'].map((seconds) => `camera.expose({ seconds: ${seconds}, at: new Date("1970-01-01T00:00:00.000Z") })`).join(' › ');
    expect(unnoticed.map(({ alteration, entry, claim }) => [alteration, entry, claim])).toEqual([
      ['argument', 2, `in turn ${both}`],
      ['argument', 2, `in turn ${both}`],
      ['argument', 1, 'once mount.slewTo(3)'],
      ['move', 2, 'after mount.slewTo until settled mount.slewTo: never camera.expose'],
    ]);
  });

  test('judges by what the ledger has judged, refuses what fails, and leaves the test as it was', async () => {
    const { ledger, mount, camera } = await night();
    expect(() => weigh(ledger)).toThrow(
      /weigh\(\): ledger "a short night" has judged no claim that holds, and none was given\. Write weigh\(ledger, /,
    );
    check(once(call(mount.slewTo, [3])));
    expect(weigh(ledger)).toMatchObject({ questions: 8, noticed: 3 });
    expect(() => weigh(ledger, never(call(camera.expose)))).toThrow(/`never camera\.expose` does not hold on ledger "a short night"/);
    expect(() => weigh({} as never)).toThrow(/weigh\(\) takes a ledger and claims/);
    expect(() => weigh(openLedger(), once(call(mount.slewTo)))).toThrow(/is a claim on ledger "a short night"/);
  });

  test('proposes first what no claim speaks of, counts no query, and gives no order to lanes', async () => {
    const ledger = openLedger({ rules: 'loose' });
    const { store, meter, mount, bus, lamp } = ledger.standIns<{
      store: { find(id: string): Promise<{ zone: string }> };
      meter: { level(of: string): number };
      mount: { slewTo(ra: number): Promise<void> };
      bus: { send(to: string, what: string): void };
      lamp: { show(colour: string): void };
    }>();
    plan(
      call(store.find),
      computes(async (id: string) => ({ zone: `zone of ${id}` })),
    );
    plan(call(meter.level), gives(7));
    plan(
      call(mount.slewTo),
      computes(async (ra: number) => {
        for (let left = ra; left > 0; left--) await undefined;
      }),
    );
    async function lane(id: string, ra: number) {
      const { zone } = await store.find(id);
      await mount.slewTo(ra);
      bus.send(zone, id);
    }
    meter.level('north');
    await Promise.all([lane('p-1', 9), lane('p-2', 4)]);
    lamp.show('green');
    const { unnoticed } = weigh(ledger, times(2, call(bus.send)));
    const claims = [...new Set(unnoticed.map(({ claim }) => claim))];
    // The bus is spoken of, so its arguments come last; what the store was asked shows in what it answered. Orders across lanes
    // that no data asks for get no claim.
    expect(claims).toEqual([
      'in turn in any order (mount.slewTo(9) & mount.slewTo(4))',
      'once lamp.show("green")',
      'times 1..* meter.level("north")',
      'in turn in any order (bus.send("zone of p-2", "p-2") & bus.send("zone of p-1", "p-1"))',
      '',
    ]);
    const open = unnoticed.filter(({ claim }) => claim === '');
    expect(new Set(open.map(({ message }) => message.split(' (')[0]))).toEqual(
      new Set(['#1 meter.level', '#2 store.find', '#4 mount.slewTo', '#6 bus.send']),
    );
  });

  test('names claims that fix an order of calls that return at once, if nothing flows from the first to the second', () => {
    const ledger = openLedger({ rules: 'loose' });
    const { audit, meter, bus } = ledger.standIns<Record<string, { put(what?: unknown): unknown }>>();
    plan(call(audit?.put as () => unknown), gives('entry-7'));
    audit?.put('a');
    meter?.put('b');
    bus?.put('entry-7');
    const [first, second, third] = [audit, meter, bus].map((each) => call(each?.put as () => unknown));
    if (!first || !second || !third) throw new Error('no patterns');
    expect(weigh(ledger, inTurn(first, third)).tooTight).toEqual([]);
    expect(weigh(ledger, inTurn(first, second)).tooTight).toEqual([
      {
        claim: 'in turn audit.put › meter.put',
        message: expect.stringMatching(
          /^it fails if #1 audit\.put .* and #2 meter\.put .* change places, though nothing that #1 gave back was given to #2\. If the order/,
        ),
      },
    ]);
  });

  test('names claims that fail if only two independent calls change places', async () => {
    const ledger = openLedger({ rules: 'loose' });
    const { mount } = ledger.standIns<Devices>();
    plan(call(mount.slewTo), gives(Promise.resolve()));
    await Promise.all([mount.slewTo(1), mount.slewTo(2)]);
    const both = [once(call(mount.slewTo, [1])), once(call(mount.slewTo, [2]))];
    const ordered = inTurn(call(mount.slewTo, [1]), call(mount.slewTo, [2]), settled(call(mount.slewTo, [1])));
    expect(weigh(ledger, ...both, inTurn(call(mount.slewTo), call(mount.slewTo), fulfilled(call(mount.slewTo, [2])))).tooTight).toEqual([]);
    expect(weigh(ledger, ...both, ordered).tooTight).toEqual([
      {
        claim: 'in turn mount.slewTo(1) › mount.slewTo(2) › settled mount.slewTo(1)',
        message: expect.stringMatching(/^it fails if #1 mount\.slewTo \(.*\) and #2 mount\.slewTo \(.*\) change places/),
      },
    ]);
  });
});
