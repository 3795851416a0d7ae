import type { PlatformClass } from './platform-class.ts';

export const urlSearchParams: PlatformClass = {
  name: 'URLSearchParams',
  has: ['append', 'getAll', 'sort'],
  whole: ['delete', 'entries', 'forEach', 'get', 'has', 'keys', 'set', 'values'],
  apart: ['size'],
  isNamed: true,
  state: (read) => read('toString'),
  print: (_, quote, state) => `new URLSearchParams(${quote(state)})`,
};
