import type { PlatformClass } from './platform-class.ts';

export const domException: PlatformClass = {
  name: 'DOMException',
  has: ['code'],
  fixed: ['name', 'message', 'code'],
  print: ({ message, name }, quote) => `new DOMException(${quote(message)}, ${quote(name)})`,
};
