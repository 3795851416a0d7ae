import * as ekkon from 'ekkon';

/** A trace over a few letters, and a stretch of it: places from `start` on, before `end`. */
export type Trace = string;

export interface Pattern {
  readonly name: string;
  readonly says: string;
  /** The claim as code over the patterns p, s and t. */
  readonly claim: string;
  /** A direct reading: whether it holds on a stretch of a trace. */
  readonly holds: (stretch: string) => boolean;
}

/** The property patterns of Dwyer, Avrunin and Corbett (1999), for events. */
export const patterns: readonly Pattern[] = [
  { name: 'absence', says: 'p never comes', claim: 'never(p)', holds: (x) => !x.includes('p') },
  { name: 'existence', says: 'p comes', claim: "times('1..*', p)", holds: (x) => x.includes('p') },
  { name: 'bounded existence', says: 'p comes at most twice', claim: "times('0..2', p)", holds: (x) => x.split('p').length <= 3 },
  {
    name: 'precedence',
    says: 'no p without an earlier s',
    claim: 'onlyAfter(p, s)',
    holds: (x) => !x.includes('p') || (x.includes('s') && x.indexOf('s') < x.indexOf('p')),
  },
  {
    name: 'response',
    says: 'every p has a later s',
    claim: 'leadsTo(p, s)',
    holds: (x) => !x.includes('p') || x.lastIndexOf('s') > x.lastIndexOf('p'),
  },
  {
    name: 'chain precedence',
    says: 'no p without an earlier s and then t',
    claim: "inTurn(either(loop('0..*', either(s, t)), inTurn(loop('0..*', t), loop('1..*', s), t, loop('0..*', either(s, t, p)))))",
    holds: (x) => [...x].every((letter, at) => letter !== 'p' || /s.*t/.test(x.slice(0, at))),
  },
  {
    name: 'chain response',
    says: 'every p has a later s and then t',
    claim:
      "inTurn(either(loop('0..*', either(s, t)), inTurn(loop('0..*', either(s, t, p)), s, loop('0..*', either(s, t)), t, loop('0..*', either(s, t)))))",
    holds: (x) => [...x].every((letter, at) => letter !== 'p' || /s.*t/.test(x.slice(at + 1))),
  },
];

export interface Scope {
  readonly name: string;
  /** The claim in this scope as code; `…` stands for the pattern's claim. */
  readonly claim: string;
  readonly stretches: (trace: Trace) => readonly string[];
}

/** Their five scopes. */
export const scopes: readonly Scope[] = [
  { name: 'globally', claim: '…', stretches: (trace) => [trace] },
  {
    name: 'before r',
    claim: 'during({ until: r, endedOnly: true }, …)',
    stretches: (trace) => (trace.includes('r') ? [trace.slice(0, trace.indexOf('r'))] : []),
  },
  { name: 'after q', claim: 'during({ from: q }, …)', stretches: (trace) => (trace.includes('q') ? [trace.slice(trace.indexOf('q') + 1)] : []) },
  {
    name: 'between q and r',
    claim: 'during({ from: q, until: r, endedOnly: true }, …)',
    stretches: (trace) =>
      fromTo(trace)
        .filter(({ ended }) => ended)
        .map(({ text }) => text),
  },
  { name: 'after q until r', claim: 'during({ from: q, until: r }, …)', stretches: (trace) => fromTo(trace).map(({ text }) => text) },
];

function fromTo(trace: Trace): readonly { readonly text: string; readonly ended: boolean }[] {
  return [...trace.matchAll(/q([^r]*)(r|$)/g)].map(([, text = '', end]) => ({ text, ended: end === 'r' }));
}

export interface Operator {
  readonly name: string;
  readonly says: string;
  readonly claim: string;
  readonly accepts: readonly Trace[];
  readonly refuses: readonly Trace[];
}

/** The interaction operators of UML 2. */
export const operators: readonly Operator[] = [
  { name: 'strict', says: 'just this order', claim: 'inTurn(p, s)', accepts: ['ps', 'pxs'], refuses: ['sp', 'p', 'pps'] },
  { name: 'par', says: 'interleaved', claim: 'inTurn(inAnyOrder(inTurn(p, s), t))', accepts: ['pst', 'pts', 'tps'], refuses: ['spt', 'ps'] },
  { name: 'alt', says: 'one of these', claim: 'inTurn(either(p, s), t)', accepts: ['pt', 'st'], refuses: ['pst', 't'] },
  { name: 'opt', says: 'or not', claim: 'inTurn(optional(p), s)', accepts: ['ps', 's'], refuses: ['pps', 'p'] },
  { name: 'loop', says: 'so many times', claim: "inTurn(loop('2..3', inTurn(p, s)))", accepts: ['psps', 'pspsps'], refuses: ['ps', 'pspsp'] },
  { name: 'neg', says: 'not this', claim: 'never(p)', accepts: ['', 's'], refuses: ['p'] },
  {
    name: 'consider',
    says: 'only these matter: a sequence speaks of its own patterns alone',
    claim: 'inTurn(p, s)',
    accepts: ['pxts', 'xps'],
    refuses: ['psp'],
  },
  {
    name: 'critical',
    says: 'nothing else begins on the same doubles between',
    claim: 'inTurn(unbroken(p, s))',
    accepts: ['ps', 'xpsx'],
    refuses: ['pxs'],
  },
];

/** Makes a claim out of its code, on a ledger on which a trace came. */
export function claimOn(trace: Trace, code: string): ekkon.Claim {
  const ledger = ekkon.openLedger({ callSites: 0, rules: 'loose' });
  const all = ledger.standIn<Record<string, () => void>>('all');
  const names = ['p', 's', 't', 'q', 'r', 'x'];
  const events = names.map((name) => ekkon.call(all[name] as () => void));
  for (const letter of trace) all[letter]?.();
  const scope: Record<string, unknown> = { ...ekkon };
  const made = new Function(...Object.keys(scope), ...names, `return (${code});`);
  return made(...Object.values(scope), ...events);
}

/** The tables as they stand in the documentation. */
export function tables(): string {
  const rows = patterns.flatMap(({ name, says, claim }) =>
    scopes.map(
      (scope, at) =>
        `| ${at === 0 ? `**${name}**: ${says}` : ''} | ${scope.name} | \`${scope.claim.replace('…', at === 0 || claim.length < 40 ? claim : 'the same')}\` |`,
    ),
  );
  const words = operators.map(({ name, says, claim }) => `| ${name} | ${says} | \`${claim}\` |`);
  return ['| pattern | scope | claim |', '|---|---|---|', ...rows, '', '| operator | meaning | claim |', '|---|---|---|', ...words].join('\n');
}
