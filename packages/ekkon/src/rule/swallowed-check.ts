import { type CapturedSite, readSite } from '../record/call-site.ts';
import { stackOf } from '../value/call-stack.ts';
import { brokenTogether, levelForClaim, noteAtMost, strictest } from './broken.ts';
import { type FailedCheck, judgementsOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/**
 * A check threw, and the test passed all the same: its error was swallowed. Not if the test looked at the
 * verdict, or if the same claims held later, as they do in a loop that asks until they do.
 */
export const swallowedCheck: Rule = {
  levels: { loose: 'allow', usual: 'fail', careful: 'fail', strict: 'fail' },
  atClose: findSwallowed,
};

/** Whether a check ran inside an assertion that it throws: `expect(() => check(…)).toThrow()`, `assert.throws`. */
function isAsserted(captured: CapturedSite | undefined): boolean {
  return /[\\/]@vitest[\\/]expect[\\/]|[\\/]node_modules[\\/](?:chai|expect)[\\/]|node:assert\b/.test(
    stackOf(captured),
  );
}

function findSwallowed({ journal, passed }: Closing): readonly Broken[] {
  if (passed === false) return [];
  const swallowed = judgementsOn(journal).failedChecks.filter(
    ({ wasRead, heldLater, captured }) => !wasRead && !heldLater && !isAsserted(captured),
  );
  const levelOf = ({ claims }: FailedCheck) => {
    const level = strictest(claims.map((claim) => levelForClaim('swallowedCheck', claim)));
    return passed === undefined ? noteAtMost(level) : level;
  };
  return brokenTogether(swallowed, levelOf, (found) => {
    const [first] = found;
    const finding = first?.verdict.findings[0];
    return {
      code: 'swallowedCheck',
      claim: 'rule swallowedCheck',
      of: undefined,
      culprits: finding?.culprits ?? [],
      at: readSite(first?.captured),
      found: finding === undefined ? '' : `${finding.claim}: ${finding.message}`,
      checks: found.length,
    };
  });
}
