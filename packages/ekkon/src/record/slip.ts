import type { Below } from '../value/below.ts';
import { type CapturedSite, captureSite, readSite, type Site } from './call-site.ts';
import type { Journal } from './journal.ts';

/** The notes that claims, patterns and plans leave with a ledger when they are written. */
export interface Slip {
  readonly written: Map<object, Written>;
  /** How many more places at which they are written may be captured. */
  sitesLeft: number;
}

/** A claim or a pattern as the test wrote it. */
export interface Written {
  readonly is: 'claim' | 'pattern';
  readonly captured: CapturedSite | undefined;
  /** Whether it was judged, or is a part of something else. */
  used: boolean;
}

export function newSlip(sites: number): Slip {
  return { written: new Map(), sitesLeft: sites };
}

/** Notes that a claim or a pattern was written: it is one that nothing has used, until something does. */
export function noteWritten<T extends object>(
  journal: Journal,
  is: Written['is'],
  statement: T,
  below: Below,
): T {
  const { written } = journal.slip;
  written.set(statement, { is, captured: writtenSite(journal, below), used: false });
  return statement;
}

/** Notes that something has used a claim or a pattern. */
export function noteUsed({ slip }: Journal, statement: object): void {
  const written = slip.written.get(statement);
  if (written !== undefined) written.used = true;
}

/** Where a claim or a pattern was written. */
/** Notes where a claim stands in a file of claims. */
export function placeWritten({ slip }: Journal, statement: object, site: Site): void {
  const written = slip.written.get(statement);
  if (written !== undefined) slip.written.set(statement, { ...written, captured: { site } });
}

export function siteOf({ slip }: Journal, statement: object): Site | undefined {
  return readSite(slip.written.get(statement)?.captured);
}

/** The claims and patterns that nothing has used. */
export function unused({ slip }: Journal): readonly (readonly [object, Written])[] {
  return [...slip.written].filter(([, { used }]) => !used);
}

/** Where something is written, as long as places may be captured. */
export function writtenSite({ slip }: Journal, below: Below): CapturedSite | undefined {
  if (slip.sitesLeft <= 0) return undefined;
  slip.sitesLeft--;
  return captureSite(below);
}
