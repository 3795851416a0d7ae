import type { HeldEntry } from '../record/journal.ts';

/** The latest entries of a record, which excerpts have in common. */
export class Recent {
  private readonly latest: HeldEntry[] = [];
  private readonly half: number;
  private followed: { readonly entries: HeldEntry[]; left: number }[] = [];

  /** @param around how many of them there are at most */
  constructor(around: number) {
    this.half = Math.ceil(around / 2);
  }

  add(entry: HeldEntry): void {
    this.latest.push(entry);
    if (this.latest.length >= 2 * this.half) this.latest.splice(0, this.half);
    if (this.followed.length === 0) return;
    for (const each of this.followed) {
      each.entries.push(entry);
      each.left--;
    }
    this.followed = this.followed.filter(({ left }) => left > 0);
  }

  get entries(): readonly HeldEntry[] {
    return this.latest;
  }

  /** The latest entries, to which half as many later ones are added as they come. */
  around(): readonly HeldEntry[] {
    const entries = [...this.latest];
    this.followed.push({ entries, left: this.half });
    return entries;
  }
}
