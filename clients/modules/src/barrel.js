export * from './tariff.js';
export { default as plusOne, priceFor as cost } from './tariff.js';
