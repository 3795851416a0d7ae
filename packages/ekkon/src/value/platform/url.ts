import type { PlatformClass } from './platform-class.ts';

export const url: PlatformClass = {
  name: 'URL',
  has: ['href', 'searchParams'],
  whole: ['hash', 'host', 'pathname', 'search'],
  apart: ['searchParams'],
  keys: [
    'href',
    'origin',
    'protocol',
    'username',
    'password',
    'host',
    'hostname',
    'port',
    'pathname',
    'search',
    'hash',
  ],
  state: (read) => read('href'),
  print: ({ href }, quote) => `new URL(${quote(href)})`,
};
