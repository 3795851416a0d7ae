import { aboutEntry } from '../explain/diagnosis.ts';
import type { NothingCheckedDiagnosis } from '../explain/rule-finding.ts';
import { isEverything } from '../pattern/multiplicity.ts';
import { plansIn } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import { siteOf, unused } from '../record/slip.ts';
import { printsAs } from '../value/prints-as.ts';
import { brokenAt, strictest } from './broken.ts';
import { hasAsserted, isJudgedSince, judgementsOn, levelOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/**
 * Doubles that were called or made, or streams that were followed, though no claim was judged once they had
 * been, the test did not look, and its runner counted no assertion.
 */
export const nothingChecked: Rule = {
  levels: { loose: 'allow', usual: 'note', careful: 'fail', strict: 'fail' },
  atClose: findNothingChecked,
};

function findNothingChecked(closing: Closing): readonly Broken[] {
  const { journal, streams } = closing;
  const doubles = [...closing.doubles.keys()];
  const { judged, lookedAt, failedChecks, assertions, levels } = judgementsOn(journal);
  const levelOf = (double: string) => levelOn(journal, double, 'nothingChecked');
  const calls = journal.entries.filter(({ target }) => levelOf(target.double) !== 'allow');
  const [first] = calls;
  if (lookedAt.size > 0 || hasAsserted(journal) || failedChecks.length > 0) return [];
  const isRequired = plansIn(journal).some(
    ({ counted }) => counted !== undefined && !isEverything(counted.range),
  );
  const since = first?.began ?? 0;
  if (isRequired || judged.some(({ upTo }) => upTo >= since)) return [];
  const names = new Set([
    ...calls.map(({ target }) => target.double),
    ...streams.map(({ label }) => label),
    ...(calls.length === 0 ? doubles : []),
  ]);
  // A ledger that was asked for and not used: in a test of which a runner counts the assertions, and that uses no other.
  const isTold = assertions !== undefined && !isJudgedSince(journal);
  const ofLedger = isTold ? levels.nothingChecked : 'allow';
  const level = names.size === 0 ? ofLedger : strictest([...names].map(levelOf));
  return brokenAt(level, () => ({
    code: 'nothingChecked',
    claim: 'rule nothingChecked',
    ...(first === undefined ? aboutStream(closing) : aboutEntry(first)),
    calls: calls.length,
    streams: streams.map(({ label }) => label),
    doubles,
    early: judged.length,
    bare: barePattern(closing),
  }));
}

/** If nothing was recorded at all, the place at which the first stream was asked for. */
function aboutStream({ streams }: Closing) {
  return {
    of: undefined,
    culprits: [],
    at: readSite(streams[0]?.captured),
    entry: undefined,
  };
}

/** A pattern that was written as if it were a claim. */
function barePattern({ journal }: Closing): NothingCheckedDiagnosis['bare'] {
  const [statement] = unused(journal).find(([, { is }]) => is === 'pattern') ?? [];
  if (statement === undefined) return undefined;
  const notation = (statement as { readonly [printsAs]: string })[printsAs];
  return { notation, at: siteOf(journal, statement) };
}
