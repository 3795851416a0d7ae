import { brokenAt, levelForClaim } from './broken.ts';
import type { Rule } from './rule.ts';

/** Waits that nobody awaited: the test went on without them. */
export const unawaitedWait: Rule = {
  levels: { loose: 'fail', usual: 'fail', careful: 'fail', strict: 'fail' },
  atClose: ({ unawaited }) =>
    unawaited.flatMap(({ claim, diagnosis }) =>
      brokenAt(levelForClaim('unawaitedWait', claim), () => diagnosis),
    ),
};
