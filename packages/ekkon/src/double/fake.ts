import type { Double, RealFunction } from '../record/member.ts';
import { tied } from '../record/tie.ts';
import { chainOf } from '../value/prototype-chain.ts';
import { construct, isClass, isWrittenAsClass } from './constructible.ts';
import { type RecordedFunction, recordedFunction } from './recorded.ts';
import { defineSlot, memberOf } from './stand-in.ts';

/**
 * Puts a partial fake's members on a stand-in: its functions run and are recorded, with the stand-in as
 * `this`; everything else is copied. The fake itself is not changed.
 */
export function addFake(standIn: object, fake: object): void {
  const double = tied(standIn);
  if (double?.is !== 'double') return;
  for (const [key, descriptor] of membersOf(fake)) {
    const { value } = descriptor;
    if (typeof value === 'function') defineSlot(double, key, fakeMember(double, key, value));
    else if ('value' in descriptor && typeof key === 'string') defineSlot(double, key, value);
    else Object.defineProperty(standIn, key, { ...descriptor, configurable: true });
  }
}

/** A function of a partial fake: recorded, with its own members, and constructible if it is a class. */
function fakeMember(double: Double, key: PropertyKey, real: RealFunction): RecordedFunction {
  const shape = isClass(real) ? real : undefined;
  const member = memberOf(double, [key], { otherwise: 'real', real, fake: true, shape });
  const shown = `[member ${member.target.label}]`;
  const recorded = recordedFunction(member, key, shown, {
    construct: (args, newTarget, below) => construct(member, args, newTarget, below),
    isUnrecorded: isWrittenAsClass(real) ? () => true : undefined,
  });
  Object.setPrototypeOf(recorded, real);
  if (shape !== undefined)
    Object.defineProperty(recorded, 'prototype', { value: shape.prototype, writable: false });
  return recorded;
}

/** The members of an object and of the classes it is made of, the nearest first. */
function membersOf(fake: object): ReadonlyMap<PropertyKey, PropertyDescriptor> {
  const members = new Map<PropertyKey, PropertyDescriptor>();
  for (const holder of chainOf(fake)) {
    for (const key of Reflect.ownKeys(holder)) {
      const descriptor = Object.getOwnPropertyDescriptor(holder, key);
      if (descriptor !== undefined && key !== 'constructor' && !members.has(key))
        members.set(key, descriptor);
    }
  }
  return members;
}
