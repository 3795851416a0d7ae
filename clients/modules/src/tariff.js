/** What an hour at a telescope costs. */
export const priceFor = (minutes) => minutes * 2;
export function priceOfNight(nights) {
  return priceFor(nights * 60);
}
export class Receipt {
  constructor(minutes) {
    this.minutes = minutes;
  }
  text() {
    return `${this.minutes} min`;
  }
}
const rate = 2,
  { ceil: roundUp } = Math;

/** A component, as frameworks have them that are objects. */
export const panel = { render: (minutes) => `${minutes} min` };

export { rate, roundUp };
export default (minutes) => minutes + 1;
