import { pong } from './cycle-b.js';
export function ping(times) {
  return times === 0 ? 'end' : pong(times - 1);
}
export const first = pong(1);
