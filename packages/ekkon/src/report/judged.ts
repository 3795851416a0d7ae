import { claimOf } from '../claim/kinds.ts';
import type { Finding, Verdict } from '../explain/finding.ts';
import type { Site } from '../record/call-site.ts';
import type { Claim } from '../record/claim-type.ts';
import { siteOf } from '../record/slip.ts';
import { inQuotes } from '../value/escape.ts';
import { sinceSentence, sinceText } from './since-words.ts';
import { reportText } from './text.ts';
import { verdictData } from './verdict-data.ts';
import { xml } from './xml.ts';

/** A judged ledger: its file, the claims, and the findings. */
export interface JudgedLedger {
  readonly file: string;
  readonly claims: readonly Claim[];
  readonly verdict: Verdict;
}

/** A ledger that could not be judged, and why. */
export interface UnjudgedLedger {
  readonly file: string;
  readonly error: string;
}

/** One claim with its findings, or a rule with one. */
export interface Case {
  readonly name: string;
  readonly findings: readonly Finding[];
  /** Where the claim stands; of a rule, where it found something. */
  readonly at: Site | undefined;
}

/** The claims of a judged ledger in order, then the findings of its rules. */
export function casesOf({ claims, verdict }: JudgedLedger): readonly Case[] {
  const cases = claims.map((claim) => ({
    name: claim.notation,
    at: placeOf(claim),
    findings: verdict.findings.filter(({ of }) => of === claim),
  }));
  const told = new Set(cases.flatMap(({ findings }) => findings));
  const others = verdict.findings.filter((finding) => !told.has(finding));
  const ofRules = others.map((finding) => ({
    name: finding.claim,
    findings: [finding],
    at: finding.at,
  }));
  return [...cases, ...ofRules];
}

function placeOf(claim: Claim): Site | undefined {
  const held = claimOf(claim);
  return held === undefined ? undefined : siteOf(held.journal, claim);
}

/** The findings of one case, as a report of its own. */
export function caseText({ verdict }: JudgedLedger, { findings }: Case): string {
  const { since: _, ...others } = verdict;
  const claims = findings.some(({ of }) => of !== undefined) ? 1 : 0;
  return reportText({ ...others, findings, causes: [], claims });
}

/** The cause that a finding has in common with others, in a sentence. */
export function causeOf({ verdict }: JudgedLedger, finding: Finding): string | undefined {
  const at = verdict.findings.indexOf(finding);
  const shared = verdict.causes.find(
    ({ explains }) => explains.length > 1 && explains.includes(at),
  );
  return shared?.message;
}

/** The findings as data that JSON carries; values print as reports show them. */
export function judgedData({ file, claims, verdict }: JudgedLedger): unknown {
  const { ledger, holds, ...rest } = verdictData(verdict);
  return { ledger, file, holds, claims: claims.map(({ notation }) => notation), ...rest };
}

/** What changed since a ledger's test last passed, in lines; `''` if that is not known. */
function sinceIn({ verdict: { since } }: JudgedLedger): string {
  return since === undefined
    ? ''
    : [sinceSentence(since) ?? '', '', sinceText(since)].join('\n').trim();
}

/** Judged ledgers as JUnit's XML: a suite for each, a case for each claim. Judging is not timed: `time` is 0. */
export function junitText(
  all: readonly JudgedLedger[],
  unjudged: readonly UnjudgedLedger[] = [],
): string {
  const total = { tests: 0, failures: 0, errors: unjudged.length };
  const suites = all.map((judged) => {
    const cases = casesOf(judged);
    const failures = cases.filter(({ findings }) => findings.length > 0).length;
    total.tests += cases.length;
    total.failures += failures;
    const lines = cases.map((each) => junitCase(judged, each));
    const told = sinceIn(judged);
    const since = told === '' ? '' : `    <system-out>${xml(told)}</system-out>\n`;
    const head = suiteHead(judged.verdict.ledger, cases.length, [failures, 0], judged.file);
    return `${head}\n${lines.join('\n')}\n${since}  </testsuite>`;
  });
  const broken = unjudged.map(({ file, error }) => {
    total.tests++;
    const held = `<error type="input" message="${xml(error)}"/>`;
    return `${suiteHead(file, 1, [0, 1], file)}\n    <testcase name="it can be judged" classname="${xml(file)}" time="0">${held}</testcase>\n  </testsuite>`;
  });
  const lines = [...suites, ...broken].join('\n');
  const counts = `tests="${total.tests}" failures="${total.failures}" errors="${total.errors}"`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites ${counts} time="0">\n${lines}\n</testsuites>`;
}

function suiteHead(
  name: string,
  tests: number,
  [failures, errors]: readonly [failures: number, errors: number],
  file: string,
): string {
  return `  <testsuite name="${xml(name)}" tests="${tests}" failures="${failures}" errors="${errors}" time="0" file="${xml(file)}">`;
}

function junitCase(judged: JudgedLedger, each: Case): string {
  const { at } = each;
  const place = at === undefined ? '' : ` file="${xml(at.file)}" line="${at.line}"`;
  const head = `    <testcase name="${xml(each.name)}" classname="${xml(judged.verdict.ledger)}"${place} time="0"`;
  const [first] = each.findings;
  if (first === undefined) return `${head}/>`;
  const cause = causeOf(judged, first);
  const told = cause === undefined ? '' : `${xml(`one cause with others: ${cause}`)}\n\n`;
  return `${head}>\n      <failure type="${xml(first.code)}" message="${xml(first.message)}">${told}${xml(caseText(judged, each))}</failure>\n    </testcase>`;
}

/** Judged ledgers as TAP, version 14: a point for each claim. */
export function tapText(
  all: readonly JudgedLedger[],
  unjudged: readonly UnjudgedLedger[] = [],
): string {
  const points = all.flatMap((judged) => casesOf(judged).map((each) => ({ judged, each })));
  const lines = points.flatMap(({ judged, each }, at) => {
    const isFine = each.findings.length === 0;
    const name = tapName(`${judged.verdict.ledger}: ${each.name}`);
    const head = `${isFine ? 'ok' : 'not ok'} ${at + 1} - ${name}`;
    const [first] = each.findings;
    if (first === undefined) return [head];
    const cause = causeOf(judged, first);
    const report = caseText(judged, each)
      .split('\n')
      .map((line) => `    ${line}`.trimEnd());
    return [
      head,
      '  ---',
      `  code: ${first.code}`,
      `  message: ${inQuotes(first.message)}`,
      ...(cause === undefined ? [] : [`  cause: ${inQuotes(cause)}`]),
      '  report: |',
      ...report,
      '  ...',
    ];
  });
  const since = all.flatMap((judged) => {
    const told = sinceIn(judged);
    return told === '' ? [] : [judged.verdict.ledger, ...told.split('\n')];
  });
  const comments = since.map((line) => `# ${line}`.trimEnd());
  const broken = unjudged.flatMap(({ file, error }, at) => [
    `not ok ${points.length + at + 1} - ${tapName(`${file}: it can be judged`)}`,
    '  ---',
    '  code: input',
    `  message: ${inQuotes(error)}`,
    '  ...',
  ]);
  const plan = `1..${points.length + unjudged.length}`;
  return ['TAP version 14', plan, ...comments, ...lines, ...broken].join('\n');
}

/** A name in one line, without the start of a directive. */
function tapName(name: string): string {
  return name.replace(/[\\#]/g, '\\$&').replace(/\s+/g, ' ');
}
