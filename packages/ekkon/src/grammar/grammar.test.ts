import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyValue } from '../../tests/any-value.ts';
import { failureOf, thrownBy } from '../../tests/failure.ts';
import { forAll, forAllAsync } from '../../tests/for-all.ts';
import { claimFor, claims, moves, played } from '../../tests/random-claims.ts';
import { NotationError, parseClaims } from '../claims.ts';
import { loaded } from '../file/ledger-file.ts';
import * as ekkon from '../index.ts';
import { shortValue } from '../notation/value.ts';
import type { Journal } from '../record/journal.ts';
import { toLines } from '../record/lines.ts';
import { fromLines } from '../record/read-lines.ts';
import { tied } from '../record/tie.ts';
import { levelsIn } from '../rule/rules.ts';
import { sectionsIn } from './parse-claims.ts';

const { about, anyRest, anything, call, check, item, openLedger } = ekkon;

const [filter, odd] = [Symbol('filter'), Symbol('of "two" words')];

interface Devices {
  readonly dome: { open(...to: unknown[]): unknown; close(): void };
  readonly once: { again(...to: unknown[]): unknown };
  readonly 'night log': { write(...to: unknown[]): unknown; readonly 'a b': { c(): void } };
}

/** A record with calls of all ends, a stream, and marks; the names are some that need quotes. */
function record(calls: readonly (readonly [member: number, args: readonly unknown[]])[]) {
  const ledger = openLedger({ name: 'a dry night', rules: 'loose' });
  const { dome, once, 'night log': log } = ledger.standIns<Devices>();
  const done = ledger.callable<(...to: unknown[]) => unknown>('done');
  const rain = ledger.follow<unknown>((emit) => {
    send = emit;
    return () => {};
  }, 'rain');
  let send: (value: unknown) => void = () => {};
  const lens = { [filter]() {}, [odd]() {} };
  for (const key of [filter, odd] as const) ledger.observe(lens, key, { name: 'lens' });
  const members = [dome.open, dome.close, once.again, log.write, log['a b'].c, done, lens[filter], lens[odd]] as const;
  ekkon.plan(
    call(dome.open),
    ekkon.computes((...to) => to[0]),
  );
  const [dusk, dawn] = [ledger.mark('dusk'), undefined as unknown];
  for (const [member, args] of calls) {
    if (member === members.length) send(args[0]);
    else (members[member] as (...args: readonly unknown[]) => unknown)(...args);
  }
  return { ledger, members, rain, marks: [dusk, dawn ?? ledger.mark('dawn \u202e"')] };
}

/** Values that a text can carry: no functions, no symbols that are not shared, no holes and cycles. */
const value = anyValue().filter(
  (each) =>
    !/‹|Symbol\((?!")|Symbol\("/.test(
      ekkon.once(call(openLedger().callable<(v: unknown) => void>('x'), [each])).notation.replaceAll('Symbol.for', ''),
    ),
);

const matcher: fc.Arbitrary<unknown> = fc.letrec<{ any: unknown }>((tie) => ({
  any: fc.oneof(
    { maxDepth: 2 },
    value,
    fc.constantFrom(anything, ekkon.nullish, ekkon.missing, about(3), about(1.5, 0.25), ekkon.between(1, 4), ekkon.between(new Date(0), new Date(5))),
    fc.constantFrom(
      ekkon.textLike(/a[/"\]]+\/"/gi),
      ekkon.startsWith('a'),
      ekkon.endsWith('"'),
      ekkon.typeOf('string'),
      ekkon.instanceOf(Date),
      ekkon.instanceOf(RangeError),
      ekkon.sized(2),
    ),
    tie('any').map((each) => ekkon.includes(each === '' ? ' ' : each)),
    tie('any').map((each) => ekkon.not(each)),
    tie('any').map((each) => ekkon.allItems(each)),
    fc.tuple(tie('any'), tie('any')).map(([one, other]) => ekkon.anyOf(one, other)),
    fc.tuple(tie('any'), tie('any')).map((both) => ekkon.allOf(...both)),
    fc.array(tie('any'), { maxLength: 3 }).map((all) => ekkon.unordered(all)),
    tie('any').map((each) => ekkon.partial({ a: each })),
    tie('any').map((each) => ({ a: each, 'b c': [each], $: 1 })),
  ),
})).any;

const multiplicity = fc.constantFrom<ekkon.Multiplicity>(0, 1, 2, '0..1', '1..*', '2..3', '0..*');
type Made = ReturnType<typeof record>;
type Build<T> = (made: Made) => T;

const calls: fc.Arbitrary<Build<never>> = fc
  .tuple(fc.nat(7), fc.option(fc.array(matcher, { maxLength: 3 })), fc.boolean())
  .map(([member, args, rest]) => ({ members }: Made) => {
    const given = args === null ? undefined : rest ? [...args, anyRest] : args;
    return call(members[member] as never, given as never) as never;
  });

const event: fc.Arbitrary<Build<never>> = fc.oneof(
  { weight: 3, arbitrary: calls },
  {
    weight: 1,
    arbitrary: fc.tuple(fc.constantFrom('returned', 'threw', 'fulfilled', 'rejected'), calls, fc.option(matcher)).map(
      ([end, of, with_]) =>
        (made: Made) =>
          (with_ === null ? ekkon[end as 'returned'](of(made)) : ekkon[end as 'returned'](of(made), with_ as never)) as never,
    ),
  },
  { weight: 1, arbitrary: calls.map((of) => (made: Made) => ekkon.settled(of(made)) as never) },
  {
    weight: 1,
    arbitrary: fc.option(matcher).map(
      (each) =>
        ({ rain }: Made) =>
          (each === null ? item(rain) : item(rain, each)) as never,
    ),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom<Build<never>>(
      ({ rain }) => ekkon.completed(rain) as never,
      ({ rain }) => ekkon.failed(rain) as never,
    ),
  },
);

const claim: fc.Arbitrary<Build<ekkon.Claim>> = fc.oneof(
  fc.tuple(fc.constantFrom('once' as const, 'never' as const), event).map(
    ([word, of]) =>
      (made: Made) =>
        ekkon[word](of(made)),
  ),
  fc.tuple(multiplicity, event).map(
    ([range, of]) =>
      (made: Made) =>
        ekkon.times(range, of(made)),
  ),
  fc
    .array(event, { minLength: 1, maxLength: 3 })
    .map((steps) => (made: Made) => ekkon.inTurn(...steps.map((each, at) => (at === 1 ? ekkon.optional(each(made)) : each(made))))),
  fc.array(matcher, { maxLength: 3 }).map(
    (items) =>
      ({ rain }: Made) =>
        ekkon.exactItems(rain, items),
  ),
  fc.constantFrom<Build<ekkon.Claim>>(
    ({ ledger }) => ekkon.nothingElse(ledger),
    ({ members, rain }) => ekkon.nothingElse(members[5], rain),
  ),
  fc.tuple(fc.constantFrom('from', 'until'), fc.nat(1), event).map(
    ([bound, at, of]) =>
      (made: Made) =>
        ekkon.during({ [bound]: made.marks[at] } as never, ekkon.once(of(made))),
  ),
);

const happened = fc.array(fc.tuple(fc.nat(8), fc.array(value, { maxLength: 3 })), { maxLength: 8 });

/** What is said of a claim: that it holds, or the first line of why not, without places. */
const saidOf = (each: ekkon.Claim) =>
  failureOf(each)
    ?.verdict.findings.map(({ code, culprits }) => `${code} ${culprits}`)
    .join() ?? 'holds';

const runs = Number(process.env['EKKON_RUNS'] ?? 150);

/** A claim that is printed and read prints and judges the same, live and from a file. */
function staysItself(given: ekkon.Claim, ledger: ekkon.Ledger) {
  const { notation } = given;
  const journal = tied(ledger)?.journal as Journal;
  const file = loaded(fromLines(toLines(journal, { show: shortValue }).join('\n')).journal, false, levelsIn('loose'));
  for (const read of [parseClaims(notation, ledger), parseClaims(`ledger "*"\n  ${notation}`, file)])
    expect(read.map((each) => [each.notation, saidOf(each)])).toEqual([[notation, saidOf(given)]]);
}

test('a claim with any values, matchers and names stays itself when it is printed and read', () => {
  forAll(runs, happened, claim, (calls, build) => {
    const made = record(calls);
    staysItself(build(made), made.ledger);
  });
});

test('a claim of any structure does so too', async () => {
  await forAllAsync(runs, fc.array(moves, { maxLength: 8 }), claims, async (made, told) => {
    const parts = { ...played(), odd: ekkon.anyOf(1, 3) };
    for (const move of made) await parts.play(move);
    staysItself(claimFor(parts, told), parts.ledger);
  });
});

describe('a text of claims', () => {
  const { ledger } = record([
    [0, [{ seconds: 30, filter: 'red' }]],
    [1, []],
  ]);
  const read = (text: string) => parseClaims(text, ledger).map(({ notation }) => notation);

  test('has comments, sections, and lines that go on', () => {
    const text = `\uFEFF# a night\r
once dome.open({
  seconds: 30,   # half a minute
  filter: "red" })

in turn dome.open
    › dome.close
      # and that was all

never "once".again
ledger "another night"
once nobody.knows(‹this› "(")
ledger "*"
times 1 done   # for all
`;
    expect(read(text)).toEqual([
      'once dome.open({ seconds: 30, filter: "red" })',
      'in turn dome.open › dome.close',
      'never "once".again',
      'times 1 done',
    ]);
    expect(sectionsIn(text)).toEqual(['another night', '*']);
    expect(read('once dome.open\nonce dome.close')).toHaveLength(2);
    check(parseClaims('once dome.open({ seconds: 30, filter: "red" })\ndome.close only after dome.open', ledger));
  });

  test('has errors, instances, doubles and bytes as values', () => {
    class Frame {
      readonly id = 'frame-1';
    }
    class LensError extends Error {
      readonly code = 4;
    }
    const { ledger, members } = record([[5, []]]);
    const [, , , , , done] = members;
    const values = [
      new RangeError('far'),
      new LensError('lost'),
      new Error(),
      new Frame(),
      new Uint8Array([1, 2]).buffer,
      ledger.standIn('mount'),
      Object('boxed'),
    ];
    for (const value of values) {
      done(value);
      const claim = ekkon.once(call(done, [value]));
      const [read] = parseClaims(claim.notation, ledger);
      expect(read?.notation).toBe(claim.notation);
      if (read !== undefined) check(read);
    }
    expect(() => check(parseClaims('once done(new RangeError("near"))', ledger))).toThrow(/#3 +done\(new RangeError\("far"\)\)/);
    expect(() => check(parseClaims('once done(new TypeError("far"))', ledger))).toThrow(ekkon.ClaimError);
    expect(() => check(parseClaims('once done(Lens { id: "frame-1" })', ledger))).toThrow(ekkon.ClaimError);
  });

  test('knows every matcher that there is, or says why it cannot stand in a text', () => {
    const index = readFileSync(new URL('../index.ts', import.meta.url), 'utf8');
    const names = [...index.matchAll(/^export \{([^}]*)\} from '\.\/match\//gm)].flatMap(([, list = '']) =>
      list.split(',').map((name) => name.trim()),
    );
    expect(names.length).toBeGreaterThan(20);
    for (const name of names) {
      const isValue = typeof ekkon[name as 'anything'] !== 'function';
      try {
        parseClaims(`once done(${isValue ? name : `${name}()`})`, ledger);
      } catch (error) {
        expect([name, (error as Error).message]).not.toEqual([name, expect.stringMatching(/there is no (value|matcher)|is not a matcher/)]);
      }
    }
  });

  const wrong: readonly (readonly [text: string, at: string, why: RegExp])[] = [
    ['', '1:1', /there is no claim here/],
    ['# nothing', '1:1', /there is no claim here/],
    ['onse dome.open', '1:1', /there is no claim onse; did you mean once\?/],
    ['once dmoe.open', '1:6', /no double of ledger "a dry night" is called dmoe; did you mean dome\?/],
    ['once dome.open()', '1:15', /write dome\.open for any arguments, and dome\.open\(no arguments\) for none/],
    ['once #7', '1:6', /a claim is about members, not about one call/],
    ['once once.again', '1:6', /once is a word of the language; a double of that name is in quotes: "once"/],
    ['never dome', '1:7', /dome is not a function, so it is never called itself\. Name its member, as dome\.open/],
    ['dome.open', '1:1', /this is a pattern, and claims nothing\. Write once dome\.open/],
    ['once dome.open dome.close', '1:16', /the claim is at its end here/],
    ['once dome.open (90)', '1:16', /right behind the member, without a blank: dome\.open\(90\)/],
    ["once dome.open('red')", '1:16', /a text stands in double quotes, as "red"/],
    ['times 2-4 dome.open', '1:7', /a count from 2 to 4 is 2\.\.4/],
    ['times 2–4 dome.open', '1:7', /a count from 2 to 4 is 2\.\.4/],
    ['at least 1 dome.open', '1:1', /at least 1 is written 1\.\.\*: times 1\.\.\* for a claim/],
    ['times at most 3 dome.open', '1:7', /at most 3 is written 0\.\.3/],
    ['in turn dome.open › at least 2 dome.close', '1:21', /2\.\.\* in front of a step/],
    ['in turn dome.open › optional 2 dome.close', '1:30', /stands in brackets here: optional \(2 dome\.open\)/],
    ['once dome.open(suchThat("x"))', '1:16', /suchThat cannot stand in a text: a function decides it/],
    ['once dome.open(identical(1))', '1:16', /identical cannot stand in a text/],
    ['once dome.open(‹function f›)', '1:16', /a value in ‹ › cannot be read back/],
    ['once dome.open(abuot(3))', '1:16', /there is no matcher abuot; did you mean about\?/],
    ['once dome.open(about("x"))', '1:16', /about/],
    ['once dome.open({ a: 1, a: 2 })', '1:24', /a stands here twice/],
    ['once dome.open(red)', '1:16', /there is no value red; a text stands in double quotes/],
    ['once dome.open("red)', '1:16', /this text has no end/],
    ['once dome.open(1, anyRest, 2)', '1:15', /anyRest stands for all further arguments/],
    ['times 4..2 dome.open', '1:7', /write 2\.\.4/],
    ['times many dome.open', '1:7', /a count is expected/],
    ['in trun dome.open', '1:4', /there is no trun here; did you mean turn\?/],
    ['after dome.open once dome.close', '1:17', /: is expected after a stretch/],
    ['after mark "dsuk": once dome.open', '1:7', /has no mark "dsuk"; did you mean "dusk"\?/],
    ['once item dome', '1:11', /dome is not a stream/],
    ['conforms dome', '1:1', /conforms cannot stand in a text/],
    ['ledger night', '1:8', /the name of a ledger is expected/],
    ['once dome.open(Response { status: 500 })', '1:16', /Write partial\(/],
    ['once dome.open(\n  [1,\n  2)', '2:3', /this \[ is not closed: \] is expected at the end of the list/],
    ['once dome.open({ to: 90\nonce dome.close', '1:16', /this \{ is not closed: \} is expected at the end of the object/],
    ['once dome.open(90\nonce dome.close', '1:15', /this \( is not closed/],
    [`once dome.open(${'['.repeat(100_000)}`, '1:417', /nested 400 levels deep at most/],
    [`in turn ${'optional '.repeat(100_000)}dome.open`, '1:918', /nested 100 levels deep/],
    ['once dome[].open', '1:11', /the name of a symbol is expected/],
    ['once dome[lens.open', '1:20', /\] is expected after a symbol/],
    [`${'after dome.open: '.repeat(1_000)}once dome.open`, '1:1717', /nested 100 scopes deep/],
    ['nothing else on dome, nobody', '1:23', /no double of ledger .* is called nobody; it has /],
  ];
  test.each(wrong)('is refused with the place and what to write: %j', (text, at, why) => {
    const said = thrownBy(() => parseClaims(text, ledger));
    expect(said).toBeInstanceOf(NotationError);
    const { line, column, message } = said as NotationError;
    expect([`${line}:${column}`, message]).toEqual([at, expect.stringMatching(why)]);
    const [, shown = '', caret = ''] = message.split('\n');
    expect(shown.length).toBeLessThan(120);
    expect(caret.trim()).toBe('^');
  });

  test('has its caret below the place, behind characters of two columns too', () => {
    const [, shown, caret] = new NotationError('once "夜".opn', 9, 'no member').message.split('\n');
    expect([shown, caret]).toEqual(['    once "夜".opn', `    ${' '.repeat(6)}\u3000${' '.repeat(2)}^`]);
  });

  test('of any signs ends in a claim or in an error of the place', () => {
    const piece = fc.constantFrom(
      'once ',
      'dome',
      '.open',
      '(',
      ')',
      '[',
      ']',
      '{',
      '}',
      '"',
      'a',
      '1',
      '..',
      '*',
      '›',
      ': ',
      '\n',
      '  ',
      '#',
      '/',
      'in turn ',
      'after ',
      'mark ',
      '‹',
      '-',
      'n',
      ',',
      'new Date',
      '\u202e',
    );
    forAll(2_000, fc.array(piece, { maxLength: 20 }), (pieces) => {
      const said = thrownBy(() => parseClaims(pieces.join(''), ledger));
      if (said !== undefined) expect(said).toBeInstanceOf(NotationError);
    });
  });
});
