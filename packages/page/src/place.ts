/** The part of a page's state that a link keeps. */
export interface Place {
  /** Which of the records, from 0. */
  readonly record: number;
  /** The entry that is looked at. */
  readonly entry?: number;
  /** The claims, if they are others than the record came with. */
  readonly claims?: string;
}

/** A place as the fragment of an address, with its sign. */
export function writePlace({ record, entry, claims }: Place): string {
  const parts = new URLSearchParams();
  if (record > 0) parts.set('record', String(record + 1));
  if (entry !== undefined) parts.set('entry', String(entry));
  if (claims !== undefined) parts.set('claims', claims);
  return `#${parts}`;
}

/** The place in the fragment of an address; parts that are not numbers are left out. */
export function readPlace(fragment: string): Place {
  const parts = new URLSearchParams(fragment.replace(/^#/, ''));
  const entry = wholeNumber(parts.get('entry'));
  const claims = parts.get('claims');
  return {
    record: (wholeNumber(parts.get('record')) ?? 1) - 1,
    ...(entry === undefined ? {} : { entry }),
    ...(claims === null ? {} : { claims }),
  };
}

function wholeNumber(text: string | null): number | undefined {
  return text !== null && /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined;
}
