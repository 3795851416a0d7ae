/** One file that an addition takes: a new one, or a place in one that is there. */
export interface Step {
  readonly file: string;
  /** The text before which something is put; a new file has none. */
  readonly before?: string;
  readonly put: string;
  /** Whether it is the line of a table, without which nothing compiles. */
  readonly isOfTable?: true;
}

/** What CONTRIBUTING says how to add, each really added. */
export const additions: Readonly<Record<string, readonly Step[]>> = {
  'a matcher': [
    {
      file: 'match/even.ts',
      put: `import { type Matcher, makeTest } from './matcher.ts';

/** Accepts even numbers. */
export const even: Matcher<number> = makeTest('even', [], 'even', (value) => typeof value === 'number' && value % 2 === 0);
`,
    },
    { file: 'grammar/values.ts', before: '  anyRest,\n};', put: '  even,\n' },
    { file: 'grammar/values.ts', before: 'import { missing, nullish }', put: "import { even } from '../match/even.ts';\n" },
    { file: 'index.ts', before: 'export { missing, nullish }', put: "export { even } from './match/even.ts';\n" },
  ],
  'a kind of value': [
    {
      file: 'value/kinds/weak.ts',
      put: `import type { ValueKind } from './value-kind.ts';

/** A weak reference: kept as it is, and equal to itself alone. */
export const weak: ValueKind = {
  copy: (_, value) => value,
  show: (_, value) => value,
  encode: (encoding, value) => encoding.shown(value),
  compare: (comparison, claimed, recorded) => comparison.add('changed', claimed, recorded),
  print: () => '‹weak reference›',
};
`,
    },
    { file: 'value/kinds/table.ts', before: '  own,\n};', put: '  weak,\n', isOfTable: true },
    { file: 'value/kinds/table.ts', before: 'import { thing }', put: "import { weak } from './weak.ts';\n" },
    { file: 'value/kind.ts', before: "  | 'function'", put: "  | 'weak'\n" },
    { file: 'value/kind.ts', before: "  ['map', mapSize],", put: "  ['weak', WeakRef.prototype.deref],\n" },
  ],
  'a kind of claim': [
    {
      file: 'claim/as-many.ts',
      put: `import { asPattern } from '../pattern/as-pattern.ts';
import type { EventPattern } from '../pattern/types.ts';
import { type HeldEvent, journalOf } from '../pattern/event.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { Claim } from '../record/claim-type.ts';
import { aboutClaim } from '../explain/diagnosis.ts';
import { printsAs } from '../value/prints-as.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

export interface HeldAsMany extends HeldClaimBase<'asMany'> {
  readonly held: HeldEvent;
  readonly others: HeldEvent;
}

/** Claims that there are as many events of one pattern as of another. */
export function asMany(one: EventPattern, other: EventPattern): Claim {
  const [held, others] = [asPattern(one, 'asMany(…)', asMany), asPattern(other, 'asMany(…)', asMany)];
  return makeHeld({ kind: 'asMany', journal: journalOf(held), held, others }, asMany);
}

const print = ({ held, others }: PartsOf<HeldAsMany>) => \`as many \${held[printsAs]} as \${others[printsAs]}\`;
const makeHeld = claimMaker<HeldAsMany>(print);

export const asManyParts: ClaimParts<HeldAsMany, number> = {
  hears: ({ held, others }) => ({ events: [held, others] }),
  start: () => 0,
  take: (_, more, { fits }) => more + (fits.includes(0) ? 1 : 0) - (fits.includes(1) ? 1 : 0),
  same: (_, one, other) => one === other,
  stands: (_, more) => (more === 0 ? 'holds' : 'open'),
  absent: () => undefined,
  explain: (claim, _, more) => ({ code: 'uneven', ...aboutClaim(claim), culprits: [], at: undefined, more }),
  uses: ({ held, others }) => [held, others],
  canComeTrue: () => true,
  canBreak: () => true,
  holdsOfNothing: () => true,
  isAlwaysTrue: () => false,
  equal: (one, other) => samePattern(one.held, other.held) && samePattern(one.others, other.others),
  print,
};
`,
    },
    { file: 'claim/kinds.ts', before: '  readonly order: HeldOrder;', put: '  readonly asMany: HeldAsMany;\n' },
    { file: 'claim/kinds.ts', before: '  order: () => orderParts,', put: '  asMany: () => asManyParts,\n', isOfTable: true },
    { file: 'claim/kinds.ts', before: 'import { conformsParts', put: "import { asManyParts, type HeldAsMany } from './as-many.ts';\n" },
    { file: 'index.ts', before: 'export { inFlight }', put: "export { asMany } from './claim/as-many.ts';\n" },
  ],
  'a finding code': [
    {
      file: 'explain/finding.ts',
      before: '/** All findings by code.',
      put: "export interface UnevenDiagnosis extends DiagnosisBase {\n  readonly code: 'uneven';\n  readonly more: number;\n}\n\n",
    },
    { file: 'explain/finding.ts', before: '  readonly outOfOrder: OrderDiagnosis;', put: '  readonly uneven: UnevenDiagnosis;\n' },
    {
      file: 'report/findings.ts',
      before: '  outOfOrder: orderWords,',
      put: "  uneven: { message: ({ more }) => [more, 'more of the one than of the other'].join(' '), blocks: () => [] },\n",
      isOfTable: true,
    },
    {
      file: 'report/guide.ts',
      before: '  neverFollowed: {',
      put: "  uneven: { means: 'More came of the one.', reasons: ['one is missing'], write: 'Mend it.' },\n",
      isOfTable: true,
    },
    { file: 'alter/failed-claim.ts', before: '  outOfOrder: order,', put: '  uneven: undefined,\n', isOfTable: true },
  ],
  'a rule': [
    {
      file: 'rule/empty-night.ts',
      put: `import type { Rule } from './rule.ts';

/** A ledger on which nothing came. */
export const emptyNight: Rule = {
  levels: { loose: 'allow', usual: 'note', careful: 'note', strict: 'fail' },
  atClose: ({ journal }) =>
    journal.entries.length > 0
      ? []
      : [{ level: 'fail', diagnosis: { code: 'emptyNight', claim: 'rule emptyNight', of: undefined, culprits: [], at: undefined } }],
};
`,
    },
    { file: 'rule/rules.ts', before: '  swallowedCheck,\n  unusedPlan', put: '  emptyNight,\n' },
    { file: 'rule/rules.ts', before: 'import { nothingChecked }', put: "import { emptyNight } from './empty-night.ts';\n" },
    {
      file: 'explain/rule-finding.ts',
      before: '/** A wait that nobody awaited. */',
      put: "export interface EmptyNightDiagnosis extends DiagnosisBase {\n  readonly code: 'emptyNight';\n}\n\n",
    },
    {
      file: 'explain/rule-finding.ts',
      before: '  readonly unawaitedWait: UnawaitedDiagnosis;',
      put: '  readonly emptyNight: EmptyNightDiagnosis;\n',
    },
    {
      file: 'report/rule-words.ts',
      before: '  unawaitedWait: {',
      put: "  emptyNight: { message: () => 'nothing came', blocks: () => [] },\n",
      isOfTable: true,
    },
    {
      file: 'report/guide.ts',
      before: '  unawaitedWait: {',
      put: "  emptyNight: { means: 'Nothing came.', reasons: ['no call'], write: 'Call.' },\n",
    },
  ],
};
