import { ping } from './cycle-a.js';
export function pong(times) {
  return ping(times);
}
export const called = () => ping(0);
