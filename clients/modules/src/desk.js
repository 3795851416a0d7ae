import { cost, priceFor as viaBarrel } from './barrel.js';
import plusOne, * as tariff from './tariff.js';
import { priceFor, Receipt } from './tariff.js';

export const direct = (minutes) => priceFor(minutes);
export const throughBarrel = (minutes) => viaBarrel(minutes);
export const renamed = (minutes) => cost(minutes);
export const byDefault = (minutes) => plusOne(minutes);
export const byNamespace = (minutes) => tariff.priceFor(minutes);
export const receipt = (minutes) => new Receipt(minutes);
