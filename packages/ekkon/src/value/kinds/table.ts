import type { Kind } from '../kind.ts';
import { array } from './array.ts';
import { boxed } from './boxed.ts';
import { bytes } from './bytes.ts';
import { date } from './date.ts';
import { error } from './error.ts';
import { func } from './function.ts';
import { hidden } from './hidden.ts';
import { instance } from './instance.ts';
import { map } from './map.ts';
import { own } from './own.ts';
import { plain } from './plain.ts';
import { platform } from './platform.ts';
import { regexp } from './regexp.ts';
import { set } from './set.ts';
import { thing } from './thing.ts';
import type { ValueKind } from './value-kind.ts';

/** All that is known of each kind of value. One that is forgotten does not compile. */
export const kinds: { readonly [K in Kind]: ValueKind } = {
  plain,
  array,
  map,
  set,
  date,
  regexp,
  bytes,
  boxed,
  error,
  instance,
  function: func,
  platform,
  thing,
  hidden,
  own,
};
