import type { Content, PlatformClass } from './platform/platform-class.ts';
import { readFixed } from './platform/read.ts';
import type { Recognised } from './platform/table.ts';
import { areOwn, printsAs } from './prints-as.ts';

/**
 * The stand-in in a copy for an object that cannot be copied: the object itself, and its visible state when it was
 * recorded.
 */
export class Snapshot {
  readonly of: object;
  /** The class of the platform that it is an instance of; `undefined` for a thing with an identity. */
  readonly type: string | undefined;
  /** All that it holds, if one primitive says it. */
  readonly state: unknown;
  readonly print: PlatformClass['print'];
  // Out of sight: a printer of verdicts would follow them into the platform's own prototypes.
  /** The state at the time of the call, copied; unchanging properties are added on demand. */
  readonly #received: Record<PropertyKey, unknown>;
  readonly #notRead: string | undefined;
  readonly #recognised: Recognised | undefined;
  #isWhole = false;

  constructor(
    of: object,
    received: Record<PropertyKey, unknown>,
    told: {
      readonly recognised?: Recognised | undefined;
      readonly type?: string | undefined;
      readonly state?: unknown;
      readonly unseen?: string | undefined;
      readonly print?: PlatformClass['print'];
    },
  ) {
    this.of = of;
    this.#received = received;
    this.#recognised = told.recognised;
    this.type = told.type;
    this.state = told.state;
    this.#notRead = told.unseen;
    this.print = told.print;
  }

  /** The visible state. Of an object with an identity, the primitives among its own properties. */
  get content(): Content {
    if (!this.#isWhole && this.#recognised !== undefined)
      readFixed(this.#received, this.of, this.#recognised);
    this.#isWhole = true;
    return this.#received;
  }

  /** The state that was not read, in words of a report. */
  get unseen(): string | undefined {
    const unknown = this.#recognised?.unknown ?? [];
    if (this.#notRead !== undefined || unknown.length === 0) return this.#notRead;
    return `its ${listed(unknown)} ${unknown.length === 1 ? 'was' : 'were'} not read`;
  }

  get [printsAs](): string {
    return `‹${this.type ?? 'object'}›`;
  }
}

areOwn(Snapshot);

/** Names as a sentence has them, the first few of many. */
function listed(names: readonly string[]): string {
  const [some, more] = [names.slice(0, 3), names.length - 3];
  if (more > 0) return `${some.join(', ')} and ${more} more`;
  return some.length < 2 ? some.join() : `${some.slice(0, -1).join(', ')} and ${some.at(-1)}`;
}

/** Whether a value found in a copy stands for an object that cannot be copied. */
export function isSnapshot(value: unknown): value is Snapshot {
  return value instanceof Snapshot;
}
