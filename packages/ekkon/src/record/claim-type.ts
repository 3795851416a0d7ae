declare const claimed: unique symbol;

/** A statement about the record that holds or does not. */
export interface Claim {
  readonly [claimed]: true;
  /** As reports and claims files write it. */
  readonly notation: string;
}
