import type { PlatformClass } from './platform-class.ts';

export const headers: PlatformClass = {
  name: 'Headers',
  has: ['append', 'get', 'forEach'],
  whole: ['delete', 'entries', 'has', 'keys', 'set', 'values'],
  isNamed: true,
  isCaseless: true,
};
