import { cost, priceFor as viaBarrel } from './barrel.js';
import plusOne, * as tariff from './tariff.js';
import { panel, priceFor, Receipt, rate } from './tariff.js';

export const direct = (minutes) => priceFor(minutes);
export const throughBarrel = (minutes) => viaBarrel(minutes);
export const renamed = (minutes) => cost(minutes);
export const byDefault = (minutes) => plusOne(minutes);
export const byNamespace = (minutes) => tariff.priceFor(minutes);
export const shown = (minutes) => `${panel.render(minutes)} at ${rate}`;
export const receipt = (minutes) => new Receipt(minutes);
