import {
  either,
  inAnyOrder,
  inTurn,
  loop,
  optional,
  type StepLike,
  unbroken,
} from '../claim/order/steps.ts';
import type { Multiplicity } from '../pattern/multiplicity.ts';
import { made, parseEvent } from './parse-events.ts';
import type { Reader } from './reader.ts';
import type { Scope } from './values.ts';

/** Steps that may be nested. */
const levels = 100;

/** Reads how often: `2`, `2..4`, `1..*`. */
export function parseRange(reader: Reader): Multiplicity {
  reader.skip();
  refuseSpoken(reader);
  const start = reader.at;
  const hyphened = reader.match(/\d+[-–]\d+/y)?.split(/[-–]/);
  if (hyphened !== undefined)
    reader.fail(`a count from ${hyphened.join(' to ')} is ${hyphened.join('..')}`, start);
  const found = reader.match(/\d+(?:\.\.(?:\d+|\*))?(?![\w*])/y);
  if (found === undefined) return reader.fail('a count is expected: 2, 2..4 or 1..*');
  if (!found.includes('..')) return Number(found);
  const [low, high] = found.split('..');
  if (high !== '*' && Number(low) > Number(high))
    reader.fail(`the lower bound is above the upper one: write ${high}..${low}`, start);
  return found as Multiplicity;
}

/** Refuses a count as it is spoken, and says how it is written. */
export function refuseSpoken(reader: Reader): void {
  const start = reader.next();
  const spoken = reader.match(/at (?:least|most) \d+/y);
  if (spoken === undefined) return;
  const [, bound, count] = spoken.split(' ');
  const range = bound === 'least' ? `${count}..*` : `0..${count}`;
  reader.fail(
    `${spoken} is written ${range}: times ${range} for a claim, ${range} in front of a step`,
    start,
  );
}

/** Reads the steps of a sequence. */
export function parseSteps(reader: Reader, scope: Scope, level = 0): readonly StepLike[] {
  const steps = [parseStep(reader, scope, level)];
  while (reader.eat('›', '>') !== undefined) steps.push(parseStep(reader, scope, level));
  return steps;
}

function parseStep(reader: Reader, scope: Scope, level: number): StepLike {
  refuseSpoken(reader);
  const start = reader.next();
  if (!/\d/.test(reader.text[start] ?? '')) return parseOneStep(reader, scope, level);
  const range = parseRange(reader);
  const step = parseOneStep(reader, scope, level);
  return made(reader, start, () => loop(range, step));
}

function parseOneStep(reader: Reader, scope: Scope, level: number): StepLike {
  if (level > levels) reader.fail(`steps are nested ${levels} levels deep at most`);
  const start = reader.next();
  if (reader.eat('(') !== undefined) {
    const steps = parseSteps(reader, scope, level + 1);
    reader.expect(')', 'after these steps');
    return made(reader, start, () => inTurn(...steps));
  }
  switch (reader.peekWord()) {
    case 'in':
      reader.eatWord();
      reader.expectWord('any');
      reader.expectWord('order');
      return parseGroup(reader, scope, level, '&', inAnyOrder);
    case 'either':
      reader.eatWord();
      return parseGroup(reader, scope, level, '|', either);
    case 'unbroken':
      reader.eatWord();
      return parseGroup(reader, scope, level, '›', unbroken);
    case 'optional': {
      reader.eatWord();
      if (/\d/.test(reader.text[reader.next()] ?? ''))
        reader.fail('a step that repeats stands in brackets here: optional (2 dome.open)');
      const step = parseOneStep(reader, scope, level + 1);
      return made(reader, start, () => optional(step));
    }
    default:
      return parseEvent(reader, scope);
  }
}

function parseGroup(
  reader: Reader,
  scope: Scope,
  level: number,
  between: string,
  make: (...steps: StepLike[]) => StepLike,
): StepLike {
  const start = reader.at;
  reader.expect('(', 'before the steps');
  const signs = between === '›' ? ['›', '>'] : [between];
  const steps: StepLike[] = [];
  do steps.push(parseStep(reader, scope, level + 1));
  while (reader.eat(...signs) !== undefined);
  reader.expect(')', `after the steps, which have ${between} between them`);
  return made(reader, start, () => make(...steps));
}
