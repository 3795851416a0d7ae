import type { PlatformClass } from './platform-class.ts';

/** A blob with a name: it holds what a blob does as well. */
export const file: PlatformClass = {
  name: 'File',
  has: [],
  fixed: ['name', 'lastModified', 'webkitRelativePath'],
  apart: ['lastModifiedDate'],
};
