/** The price of using a telescope, in the observatory's own coin. */
export function priceFor(minutes: number): number {
  return minutes <= 60 ? 4 : 4 + Math.ceil((minutes - 60) / 15);
}
