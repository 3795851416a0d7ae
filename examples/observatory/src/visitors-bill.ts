import { addMinutes } from 'date-fns';
import { priceFor } from './tariff.ts';

/** The price for a visitor, and when it is due. */
export interface Bill {
  readonly coins: number;
  readonly due: Date;
}

/** The bill of a visit: due an hour after it ends. */
export function billFor(begins: Date, minutes: number): Bill {
  return { coins: priceFor(minutes), due: addMinutes(begins, minutes + 60) };
}
