import { decodeDerived, made } from '../decoding.ts';
import { madeBy } from '../encoding.ts';
import { intrinsics } from '../intrinsics.ts';
import { dateTime, printTime } from '../slots.ts';
import { bySlot } from './state.ts';
import type { ValueKind } from './value-kind.ts';

export const date: ValueKind = {
  ...bySlot(
    (value) => new intrinsics.Date(dateTime.call(value)),
    (value) => dateTime.call(value),
  ),
  encode(encoding, value) {
    const time = dateTime.call(value);
    return {
      $: 'date',
      at: Number.isNaN(time) ? null : time,
      ...madeBy(encoding, value, Date.prototype),
    };
  },
  decode: {
    date(decoding, json) {
      const time = json['at'] === null ? Number.NaN : Number(json['at']);
      return decodeDerived(decoding, made(decoding, new intrinsics.Date(time)), json);
    },
  },
  print(_, value) {
    const time = dateTime.call(value);
    return Number.isNaN(time) ? 'new Date(NaN)' : `new Date("${printTime(time)}")`;
  },
};
