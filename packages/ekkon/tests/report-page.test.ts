import {
  type Claim,
  call,
  check,
  deferred,
  during,
  inTurn,
  type Ledger,
  leadsTo,
  never,
  once,
  onlyAfter,
  openLedger,
  plan,
  reach,
  settled,
  suchThat,
} from 'ekkon';
import { describe, expect, test } from 'vitest';
import { pageRecordOf } from '../src/file/page-record.ts';
import { tied } from '../src/record/tie.ts';
import { pageText } from '../src/report/page-data.ts';
import { toldVerdict } from '../src/report/told.ts';
import { eachCode } from './each-code.ts';
import { failure } from './failure.ts';

type Devices = { dome: { open(how?: unknown): void; close(): void }; mount: { park(): Promise<void> } };

function recordOf(ledger: Ledger) {
  const held = tied(ledger);
  if (held?.is !== 'ledger') throw new TypeError('this is not a ledger');
  return pageRecordOf(held.journal, 'night');
}

/** What a page is told of claims that do not hold. */
const told = (claim: Claim) => toldVerdict(failure(claim).verdict);

const ignore = () => {};

describe('what a page is told', () => {
  test('names the order that was claimed, with what is said beside either event', async () => {
    const ledger = openLedger({ rules: 'loose' });
    const { dome, mount } = ledger.standIns<Devices>();
    const parked = deferred();
    plan(call(mount.park), parked);
    const parking = mount.park();
    dome.close();
    parked.fulfil();
    await parking;
    dome.open();
    const early = { earlier: { entry: 1, end: true }, later: { entry: 2, end: false } };
    const [finding] = told(inTurn(settled(call(mount.park)), call(dome.close))).findings;
    expect(finding).toMatchObject({ order: early, culprits: [2] });
    expect(finding?.notes).toEqual([
      { entry: 1, end: true, says: 'had to come first' },
      { entry: 2, end: false, says: 'too early' },
    ]);
    const { findings } = told(onlyAfter(call(dome.close), call(dome.open)));
    expect(findings[0]?.order).toEqual({ earlier: { entry: 3, end: false }, later: { entry: 2, end: false } });
    expect(told(leadsTo(call(dome.open), call(dome.close))).findings[0]?.order).toBeUndefined();
  });

  test('names it as well if the later one is to blame', () => {
    const ledger = openLedger({ rules: 'loose' });
    const { dome, mount } = ledger.standIns<Devices>();
    dome.open();
    dome.close();
    void mount.park();
    const [finding] = told(inTurn(call(dome.open), call(mount.park), call(dome.close))).findings;
    expect([finding?.message, finding?.order]).toEqual([
      expect.stringMatching(/^#2 dome\.close.* came too early: expected after #3 mount\.park/),
      { earlier: { entry: 3, end: false }, later: { entry: 2, end: false } },
    ]);
  });

  test('leads each claim to its findings, and has ticks of a stretch', () => {
    const ledger = openLedger({ rules: 'loose' });
    const { dome } = ledger.standIns<Devices>();
    dome.open();
    dome.close();
    const claims = [once(call(dome.open)), never(call(dome.close)), during({ from: call(dome.open) }, never(call(dome.close)))];
    const verdict = toldVerdict(failure(...claims).verdict, claims);
    expect(verdict.claims.map(({ findings }) => findings)).toEqual([[], [0], [1]]);
    expect(verdict.findings.map(({ stretch }) => stretch)).toEqual([undefined, { after: 1, before: null }]);
    expect(verdict.first).toContain('; 2 of 3 claims fail');
  });

  test('says what is not known, what is pending, and how it came about', async () => {
    const { verdict } = await eachCode.undecidedCall();
    const blocks = JSON.stringify(toldVerdict(verdict).findings[0]?.blocks);
    expect(blocks).toContain('not known: it threw Error');
    const footed = toldVerdict({ ...verdict, causesBounded: true, entries: 5_000 });
    expect(footed.footers).toEqual([
      'judged as it was read: of 5,000 entries, those are kept that say why',
      'there was too much to try: a cause that findings have in common may not be told',
    ]);
    const ledger = openLedger({ rules: 'loose' });
    const { dome, mount } = ledger.standIns<Devices>();
    plan(call(mount.park), deferred());
    void mount.park();
    const error = await reach(once(call(dome.close)), { within: 5 }).catch((thrown) => thrown);
    const standing = toldVerdict(error.verdict).standing.map((line) => line.map(({ text }) => text).join(''));
    expect(standing).toEqual([
      expect.stringMatching(/^the last event is #1 mount\.park \(.*\), \d+ ms before$/),
      'still pending:',
      expect.stringMatching(/^#1 +mount\.park\(\).*pending for/),
    ]);
  });
});

describe('the page of a live ledger', () => {
  test('has what was thrown last, by a check, a wait or closing, and the claims that can be written', async () => {
    const ledger = openLedger({ name: 'a night', rules: 'loose' });
    const { dome } = ledger.standIns<Devices>();
    dome.open(1);
    expect(recordOf(ledger).verdict).toBeUndefined();
    check(once(call(dome.open, [suchThat((how) => how === 1, 'is near')])));
    expect(() => check(never(call(dome.open)))).toThrow();
    expect(recordOf(ledger)).toMatchObject({
      file: 'night',
      claims: expect.stringContaining('# only in the test: once dome.open(suchThat'),
      verdict: { holds: false },
    });
    expect(recordOf(ledger).claims).toContain('\nnever dome.open\n');
    await reach(once(call(dome.close)), { within: 5 }).catch(ignore);
    expect(recordOf(ledger).verdict?.findings[0]?.claim).toBe('once dome.close');

    const closing = openLedger({ rules: 'loose' });
    closing.atClose(once(call(closing.standIn<Devices['dome']>('dome').open)));
    expect(() => closing.close()).toThrow();
    expect(recordOf(closing).verdict).toMatchObject({
      heading: '1 problem at the end of the test',
      claims: [{ notation: 'once dome.open', findings: [0] }],
    });
  });

  test('holds data that no text in it can end, and a page without a place is refused', () => {
    const page = '<p></p><script type="application/json" id="records">null</script><p>after</p>';
    const records = [{ file: '</script><b>', text: '', claims: '$& $1', rules: 'usual' as const }];
    const made = pageText(page, { records });
    expect(made).toMatch(/^<p><\/p>.*<\/script><p>after<\/p>$/);
    expect(made.split('</script>')).toHaveLength(2);
    const [, json = ''] = /id="records">(.*)<\/script>/.exec(made) ?? [];
    expect(JSON.parse(json)).toEqual({ records });
    expect(() => pageText('<p></p>', { records })).toThrow('this page has no place for records');
  });
});
