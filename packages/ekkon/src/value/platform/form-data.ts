import type { PlatformClass } from './platform-class.ts';

export const formData: PlatformClass = {
  name: 'FormData',
  has: ['append', 'getAll', 'forEach'],
  whole: ['delete', 'entries', 'get', 'has', 'keys', 'set', 'values'],
  isNamed: true,
};
