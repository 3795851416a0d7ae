export { conforms } from './claim/conforms.ts';
export type { CountClaim } from './claim/count.ts';
export { never, once, times } from './claim/count.ts';
export { during, type Stretch } from './claim/during.ts';
export { exactItems } from './claim/exact-items.ts';
export { inFlight } from './claim/in-flight.ts';
export { nothingElse } from './claim/nothing-else.ts';
export {
  either,
  inAnyOrder,
  inTurn,
  loop,
  optional,
  type Step,
  type StepLike,
  unbroken,
} from './claim/order/steps.ts';
export { leadsTo, onlyAfter } from './claim/precedence.ts';
export { instances } from './double/constructible.ts';
export type { NearEntry, NearPlan, StretchData, UnclaimedEntries } from './explain/diagnosis.ts';
export type {
  AlwaysTrueDiagnosis,
  CountDiagnosis,
  Diagnoses,
  Diagnosis,
  Drift,
  DriftDiagnosis,
  Finding,
  FindingCode,
  InFlightDiagnosis,
  ItemsDiagnosis,
  Moment,
  OrderDiagnosis,
  OrderProblem,
  PrecedenceDiagnosis,
  SlotDiagnosis,
  Tally,
  UnclaimedDiagnosis,
  UndecidedDiagnosis,
  UnplannedDiagnosis,
  VacuousDiagnosis,
  Verdict,
  Waited,
} from './explain/finding.ts';
export type {
  ChangedArgumentDiagnosis,
  FailedStreamDiagnosis,
  LateCallDiagnosis,
  NothingCheckedDiagnosis,
  PendingCall,
  PendingDiagnosis,
  ReleaseDiagnosis,
  RuleDiagnoses,
  SwallowedCheckDiagnosis,
  UnawaitedDiagnosis,
  UncheckedDiagnosis,
  UnclaimedCallDiagnosis,
  UndecidedPlanDiagnosis,
  UnusedPlanDiagnosis,
} from './explain/rule-finding.ts';
export type { Change, ChangeGroup, Since } from './explain/since.ts';
export type { LastPassStore } from './ledger/last-pass.ts';
export type {
  CallableOptions,
  DoubleOptions,
  Ledger,
  LedgerOptions,
  StandInOptions,
  TargetOptions,
} from './ledger/ledger.ts';
export { openLedger } from './ledger/open-ledger.ts';
export { withLedger } from './ledger/with-ledger.ts';
export { missing, nullish } from './match/absence.ts';
export type { Rest } from './match/anything.ts';
export { anyRest, anything } from './match/anything.ts';
export { allItems, includes, sized, unordered } from './match/collections.ts';
export { defineMatcher } from './match/define-matcher.ts';
export { identical } from './match/identical.ts';
export { jsonText } from './match/json-text.ts';
export { allOf, anyOf, not } from './match/logic.ts';
export type { Matcher, PartialMatcher, Predicate } from './match/matcher.ts';
export { about, between } from './match/numbers.ts';
export { ofSchema } from './match/of-schema.ts';
export { partial } from './match/partial.ts';
export { suchThat } from './match/such-that.ts';
export { endsWith, startsWith, textLike } from './match/texts.ts';
export { instanceOf, typeOf } from './match/type-of.ts';
export type {
  EmitterLike,
  EventTargetLike,
  ReadableStreamLike,
  Subscribable,
  SubscribableByCallback,
} from './observe/source.ts';
export { call } from './pattern/call.ts';
export { fulfilled, rejected, returned, settled, threw, unfinished } from './pattern/ends.ts';
export type { Multiplicity } from './pattern/multiplicity.ts';
export { reads, writes } from './pattern/properties.ts';
export { completed, failed, item, type Stream } from './pattern/streams.ts';
export type { CallPattern, EntryPattern, EventPattern, Fitting } from './pattern/types.ts';
export { type Deferred, deferred } from './plan/deferred.ts';
export type { Plan } from './plan/plan.ts';
export { plan } from './plan/plan.ts';
export type { CallBackOptions, Plain, Reply } from './plan/reply.ts';
export {
  callsBack,
  computes,
  fulfils,
  gives,
  passesThrough,
  rejects,
  stalls,
  throws,
} from './plan/reply.ts';
export type { Site } from './record/call-site.ts';
export type { Claim } from './record/claim-type.ts';
export type { Clock } from './record/clock.ts';
export type { Answer, Entry, EntryKind, Outcome } from './record/entry.ts';
export type { Mark } from './record/mark.ts';
export { ClaimError } from './report/claim-error.ts';
export { summary } from './report/summary.ts';
export type { RuleLevel, RuleName, RuleSet, Rules } from './rule/rules.ts';
export type { Difference } from './value/difference.ts';
export { type Reveal, reveal } from './value/revealed.ts';
export { check } from './wait/check.ts';
export { reach } from './wait/reach.ts';
export { stays } from './wait/stays.ts';
