import { priceFor } from './tariff.js';

globalThis.setUps = (globalThis.setUps ?? 0) + 1;
export const number = globalThis.setUps;
export { cost as price } from './barrel.js';
export * from './late.js';
export default function setUp() {
  return priceFor(number);
}
