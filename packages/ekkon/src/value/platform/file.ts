import type { PlatformClass } from './platform-class.ts';

/** A blob with a name: it has the properties of a blob as well. */
export const file: PlatformClass = {
  name: 'File',
  has: [],
  fixed: ['name', 'lastModified', 'webkitRelativePath'],
  apart: ['lastModifiedDate'],
};
