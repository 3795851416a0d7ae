import type { HeldClaim } from '../claim/kinds.ts';
import type { Blame } from '../judge/blame.ts';
import { Dispatch } from '../judge/dispatch.ts';
import { isAtEnd, targetOf } from '../pattern/event.ts';
import type { HeldEntry } from '../record/journal.ts';
import { Excerpt, type ExcerptSize, usualSize } from './excerpt.ts';
import { Recent } from './recent.ts';

/** The excerpts of a long record that explain why some claims do not hold on it. Each event is told to those it concerns. */
export class Excerpts {
  readonly all: readonly Excerpt[];
  private readonly recent: Recent;
  private readonly dispatch = new Dispatch();
  /** Those that seek entries near their patterns, by target: as they begin, and as they end. */
  private readonly seekers: readonly [begin: Excerpt[][], end: Excerpt[][]] = [[], []];
  private readonly seekingElsewhere: readonly Excerpt[];
  private readonly hearingEnds: readonly Excerpt[];
  private seeksLeft: number;

  /**
   * @param claims those on the whole record have no excerpt
   * @param owners knows which entries other claims of the check expect
   * @param seeksAllowed how often entries may be compared with claims that lack something, beside once each
   */
  constructor(
    claims: readonly HeldClaim[],
    owners: Blame,
    seeksAllowed = Number.POSITIVE_INFINITY,
    size: ExcerptSize = usualSize,
  ) {
    this.seeksLeft = seeksAllowed;
    this.recent = new Recent(size.around);
    this.all = claims
      .filter(({ ofWhole }) => ofWhole !== true)
      .map((claim) => new Excerpt(claim, owners, this.recent, size));
    this.seekingElsewhere = this.all.filter(({ seeksElsewhere }) => seeksElsewhere);
    this.hearingEnds = this.all.filter(({ hearsEnds }) => hearsEnds);
    for (const excerpt of this.all) {
      this.dispatch.add(excerpt, excerpt.hearing);
      for (const event of excerpt.sought) {
        const side = this.seekers[isAtEnd(event) ? 1 : 0];
        const { number } = targetOf(event);
        side[number] = [...new Set([...(side[number] ?? []), excerpt])];
      }
    }
  }

  /** Whether entries were compared with all claims that lacked something: else an excerpt may miss the nearest. */
  get isWhole(): boolean {
    return this.seeksLeft >= 0;
  }

  /** Takes the next event of the record. */
  tell(entry: HeldEntry, end: boolean, tick: number): void {
    const { isWhole } = this;
    if (end) for (const excerpt of this.hearingEnds) excerpt.ended(entry);
    else {
      this.recent.add(entry);
      if (isWhole) this.seekElsewhere(entry);
    }
    if (!end || this.dispatch.hearsEnds) this.dispatch.tell(entry, end, tick);
    if (isWhole) this.seek(entry, end, tick);
  }

  private seekElsewhere(entry: HeldEntry): void {
    this.seeksLeft++;
    for (const excerpt of this.seekingElsewhere) if (excerpt.seekElsewhere(entry)) this.seeksLeft--;
  }

  private seek(entry: HeldEntry, end: boolean, tick: number): void {
    const seekers = this.seekers[end ? 1 : 0][entry.target.number];
    if (seekers === undefined) return;
    for (const excerpt of seekers) if (excerpt.seek(entry, end, tick)) this.seeksLeft--;
  }
}
