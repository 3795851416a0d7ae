import type { FindingCode } from '../explain/finding.ts';

/** The explanation of a finding for a new user. */
export interface Guidance {
  /** Its meaning in a sentence. */
  readonly means: string;
  /** The usual reasons, the most frequent first. */
  readonly reasons: readonly string[];
  /** What to do about it. */
  readonly write: string;
}

/** Guidance by code. A code that is left out does not compile; docs/findings.md is made from this table. */
export const guide: { readonly [C in FindingCode]: Guidance } = {
  missingCall: {
    means: 'Too few calls matched a claim, or a plan with a count.',
    reasons: [
      'an argument differs: the nearest call is shown with the path',
      'the call went to another member or another double, which is named',
      'the code under test did not get this double, or has not come so far: await it, or write `await reach(…)`',
    ],
    write:
      'Correct the argument, or loosen it with a matcher: `partial({ … })`, `about(…)`, `anything`.',
  },
  surplusCall: {
    means: 'Too many calls matched a claim, or a plan with a count.',
    reasons: [
      'the code calls twice',
      'the claim means one of several calls and does not say which',
    ],
    write: "Say which call is meant by its arguments, or how many may come: `times('1..*', …)`.",
  },
  undecidedCall: {
    means: 'Ekkon cannot tell whether a call matches, and the claim depends on it.',
    reasons: [
      'a class hides its state',
      'a predicate threw, or returned neither true nor false',
      'a value was too large to be copied whole',
    ],
    write: 'Use what the report offers: `reveal(…)`, `suchThat(…)`, `identical(…)`.',
  },
  undecidedOrder: {
    means: 'Two spans came from machines whose clocks are too near to tell which was first.',
    reasons: ['the trace has no link or parent between the two'],
    write:
      'Claim what does not depend on their order, or pass a smaller `--skew` if the clocks are good.',
  },
  alwaysTrueClaim: {
    means: 'No record could break this claim, so it tests nothing.',
    reasons: ["a range `'0..*'`", 'a sequence of optional steps only'],
    write: 'Say what must not happen, or how often at least.',
  },
  vacuousClaim: {
    means: 'The claim holds only because the calls that it mentions never occurred.',
    reasons: [
      'the stretch, the trigger or the guarded call never came',
      'the double was not handed to the code under test',
    ],
    write: "Claim beside it that it did occur: `times('1..*', …)`.",
  },
  unplannedCall: {
    means: 'Under the strict rules, a call came that matches no plan.',
    reasons: [
      'the plan has other arguments',
      'the code calls something that the test did not expect',
    ],
    write: 'Plan it: `plan(call(dome.open), gives(undefined))`, or relax the rule `unplannedCall`.',
  },
  unknownMember: {
    means: 'A member was called that the class behind the stand-in does not have.',
    reasons: [
      'the name is mistyped: the report shows the nearest one',
      'it is a field or an arrow function, which the class does not show',
    ],
    write: 'Correct the name, or plan the member before it is called.',
  },
  changedSlot: {
    means: 'A member that was replaced had been changed by other code when the ledger was closed.',
    reasons: ['two tools replace one member', 'the code under test writes to it'],
    write: 'Replace it in one place only. Ekkon left it as it was.',
  },
  drift: {
    means: 'A double is used in a way that the real one does not allow.',
    reasons: ['the real one was renamed or has other parameters', 'it became asynchronous'],
    write: 'Bring the test up to the real interface.',
  },
  outOfOrder: {
    means: 'Calls came in another order than a sequence claims.',
    reasons: [
      'the code does not await a promise',
      'a step is missing or unexpected, and the report names it',
      'the sequence has calls that may come at any time: leave them out, or write `inAnyOrder(…)`',
    ],
    write: 'Await it in the code, or claim only the order that matters.',
  },
  tooEarly: {
    means: 'An event came without the one that must come before it.',
    reasons: ['a promise is not awaited', 'a guard is missing'],
    write:
      'Correct the order in the code. `fulfilled(…)` means that the end of a call must come first, not its beginning.',
  },
  neverFollowed: {
    means: 'An event came, and the one that must follow it did not.',
    reasons: ['an error in between', 'the test ended too early'],
    write: 'Await the work, or write `await reach(leadsTo(…, …))`.',
  },
  inFlight: {
    means: 'More calls, or fewer, were under way at one time than expected.',
    reasons: [
      'a limit is missing',
      'replies settle too soon for calls to overlap: plan `deferred()`',
    ],
    write: 'Plan replies that the test settles, and claim the greatest number.',
  },
  unclaimedEntries: {
    means: 'A claim says that nothing else happened, but something did.',
    reasons: ['a call that no other claim of the check covers'],
    write: 'Claim it in the same check, or leave its double out of `nothingElse(…)`.',
  },
  wrongItems: {
    means: 'A stream emitted other items than expected.',
    reasons: ['an item is missing or unexpected', 'the items came in another order'],
    write: 'Correct the list. A matcher can stand for an item.',
  },
  unclaimedCall: {
    means: 'Under the strict rules, a call came that no claim covers.',
    reasons: ['a call that the test did not expect'],
    write:
      "Claim it, or make the double loose: `ledger.standIn(…, undefined, { rules: 'loose' })`.",
  },
  unusedPlan: {
    means: 'A plan answered no call.',
    reasons: ['the call came with other arguments', 'it never came'],
    write: 'Correct the arguments, or remove the plan.',
  },
  unfinishedCall: {
    means: 'A promise was not settled when the test ended.',
    reasons: ['the test does not wait for the end of the work', 'a `deferred()` was never settled'],
    write: 'Await it, settle it, or plan `stalls()` if it is meant to hang.',
  },
  stillPending: {
    means: '`untilQuiet()` ran out of time while calls were pending.',
    reasons: ['a reply that nobody settles'],
    write: 'Settle it, or plan `stalls()`, which is not waited for.',
  },
  uncheckedClaim: {
    means: 'A claim was written and never checked.',
    reasons: ['`check(…)` around it is missing'],
    write: 'Write `check(…)`, `ledger.atClose(…)` or `await reach(…)`.',
  },
  unawaitedWait: {
    means: 'Nobody awaited a `reach`, a `stays` or an `untilQuiet`.',
    reasons: ['`await` is missing'],
    write: 'Write `await` before it.',
  },
  nothingChecked: {
    means: 'Doubles were made or called, but the test checked, read and asserted nothing.',
    reasons: ['the callback with the assertions never ran', 'the test is not finished'],
    write: 'Check a claim, or read the entries.',
  },
  changedArgument: {
    means: 'An argument was changed after the call. Claims see it as it was.',
    reasons: ['the code reuses one object for several calls'],
    write: 'Pass a copy in the code, or allow the rule `changedArgument`.',
  },
  callAfterClose: {
    means: 'A call came after the test had ended and its ledger was closed.',
    reasons: ['a timer or a promise that the test does not wait for'],
    write: 'Wait for it: `await ledger.untilQuiet()`, or stop it in the code.',
  },
  swallowedCheck: {
    means: 'A check failed, but the test passed.',
    reasons: ['a `try … catch` around it', 'code under test that catches what its callback throws'],
    write: 'Let the error through, or read `error.verdict` if the test expects the failure.',
  },
  undecidedPlan: {
    means: 'Ekkon could not tell whether a plan matches a call, so the plan did not answer it.',
    reasons: ['its predicate threw', 'its argument hides its state'],
    write: 'As for `undecidedCall`.',
  },
  failedStream: {
    means: 'A followed stream failed, and no claim mentions that.',
    reasons: ['an error in the source'],
    write: 'Correct the source, or claim the failure: `once(failed(rain))`.',
  },
  emptyReply: {
    means:
      'The test failed on something undefined, and these calls returned undefined because no plan answers them.',
    reasons: ['a plan is missing', 'its arguments do not match'],
    write: "Plan what the code needs: `plan(call(camera.expose), fulfils({ id: 'frame-1' }))`.",
  },
  cutOff: {
    means: 'A ledger file is not complete, so nobody knows whether the claims hold for the rest.',
    reasons: [
      'the process that wrote it was killed before the ledger was closed',
      'the disk was full, or the file was copied in part',
    ],
    write:
      'Close the ledger in the process that writes the file. To check the part that exists: `ekkon check --allow-cut`.',
  },
  brokenReply: {
    means:
      'The reply of a plan failed inside the code under test, which may have swallowed the error: an assertion in `computes`, or a plan that could not be carried out.',
    reasons: [
      'the assertion in the reply failed',
      '`callsBack` found no function among the arguments, or more than one',
    ],
    write:
      'Assert on the recorded call after the test, `check(once(call(…)))`, or name the argument: `callsBack([…], { argument: 1 })`.',
  },
  notReleased: {
    means: 'A followed source could not be stopped when the ledger was closed.',
    reasons: ['its stop function throws'],
    write: 'Correct the function that stops the source.',
  },
};
