import type { PlatformClass } from './platform-class.ts';

export const headers: PlatformClass = {
  name: 'Headers',
  has: ['append', 'get', 'forEach'],
  isNamed: true,
  isCaseless: true,
};
