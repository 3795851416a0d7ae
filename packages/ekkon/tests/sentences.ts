import type { Entry } from 'ekkon';

/** What a sentence is held against: the record, and the part of it that the finding is about. */
export type Told = { readonly entries: readonly Entry[]; readonly stretch: { readonly after: number; readonly before: number } | undefined };

/** A record with the questions that sentences answer. */
class Facts {
  readonly inside: readonly Entry[];
  private readonly entries: readonly Entry[];
  private readonly after: number;
  private readonly before: number;

  constructor({ entries, stretch }: Told) {
    const { after, before } = stretch ?? { after: 0, before: Number.POSITIVE_INFINITY };
    this.entries = entries;
    this.after = after;
    this.before = before;
    this.inside = entries.filter(({ began }) => began > after && began < before);
  }

  /** The entry that is named by number and member. */
  named(id = '', label = ''): Entry | undefined {
    return this.entries.find((entry) => entry.id === Number(id) && entry.label === label);
  }

  /** The tick of a moment as it is written: `#2 a`, `#2 a was fulfilled`. */
  tick(moment = ''): number {
    const [, id, label, how] = /^#(\d+) (\w+)(?: (?:was )?(\w+))?$/.exec(moment) ?? [];
    const entry = this.named(id, label);
    if (entry === undefined) return Number.NaN;
    return how === undefined ? entry.began : entry.outcome.state === how ? (entry.ended ?? Number.NaN) : Number.NaN;
  }

  last(): Entry | undefined {
    return this.entries.at(-1);
  }

  next({ id }: Entry): Entry | undefined {
    return this.entries.find((entry) => entry.id > id);
  }

  of(label = ''): readonly Entry[] {
    return this.inside.filter((entry) => entry.label === label);
  }

  /** The entries of which an event certainly matches a pattern as it is written. */
  matching(pattern = ''): readonly Entry[] {
    const [, is = '', label, inside, behind] =
      /^(fulfilled |rejected |settled |unfinished |item )?(\w+)(?:\((.*)\)| with (.*))?$/.exec(pattern) ?? [];
    const args = inside ?? behind;
    return this.entries.filter((entry) => {
      const state = (entry.ended ?? Number.POSITIVE_INFINITY) < this.before ? entry.outcome.state : 'pending';
      const isEnd = {
        'fulfilled ': state === 'fulfilled',
        'rejected ': state === 'rejected',
        'settled ': state === 'fulfilled' || state === 'rejected',
        'unfinished ': state === 'pending',
      }[is];
      const when = is === '' || is === 'item ' || is === 'unfinished ' ? entry.began : (entry.ended ?? Number.NaN);
      const isInside = when > this.after && when < this.before;
      const isArg = args === undefined || (args.startsWith('suchThat') ? entry.args[0] === 1 : String(entry.args[0]) === args);
      return entry.label === label && isEnd !== false && isArg && isInside;
    });
  }

  /** What stands at a path of an entry: `[0]`, `.outcome`. */
  at({ args, outcome }: Entry, path: string): unknown {
    return path === '.outcome' ? outcome.state : path === '[0]' ? args[0] : undefined;
  }
}

type Check = (facts: Facts, ...parts: readonly string[]) => boolean;

const entry = '(?:one of )?#(\\d+)(?:, #\\d+)*(?: and \\d+ more)? (\\w+)(?:\\([^()]*\\))?';
const moment = '(#\\d+ \\w+(?: (?:was )?(?:fulfilled|rejected|returned|threw))?)';
const pattern = '((?:fulfilled |rejected |settled |unfinished |item )?\\w+(?:\\((?:[^()]|\\([^()]*\\))*\\)| with \\S+)?)';
const times = { never: 0, once: 1, twice: 2 } as Readonly<Record<string, number>>;
const numberOf = (text = '') => times[text] ?? Number(text.split(' ')[0]);
const isThere: Check = (facts, id, label) => facts.named(id, label) !== undefined;

/** Every sentence that a report says of the kinds of claims that random records are held against, and when it is true. */
const sentences: Readonly<Record<string, Check>> = {
  '(\\w+) (?:was never called|emitted nothing|did not complete)(?: in the stretch)?(?:; of \\w+ only .*)?': (facts, label) =>
    facts.of(label).length === 0,
  '(\\w+) was never called; nothing was called at all': (facts) => facts.last() === undefined,
  [`${pattern} (?:was never called|never came)(?: in the stretch)?; (?:the|there is|there are) (only|\\d+) (?:calls?|items?) of (\\w+)(?: (?:has|have) other arguments)?`]:
    (facts, said, count, label) => facts.matching(said).length === 0 && facts.of(label).length === (count === 'only' ? 1 : Number(count)),
  [`${pattern} (?:was called|came) (\\S+(?: times)?)(?: in the stretch)?, expected (.*); the last is ${entry}`]: (facts, said, count, _, id) =>
    facts.matching(said).length === numberOf(count) && facts.matching(said).at(-1)?.id === Number(id),
  [`${entry} is unexpected`]: isThere,
  [`${entry} matches, but not in the stretch`]: isThere,
  [`${entry} is unexpected: (\\d+) (?:calls?|items?|ends?)(?: in the stretch)?, expected (.*)`]: (facts, id, label, count) =>
    isThere(facts, id ?? '', label ?? '') && Number(count) > 0,
  [`${entry} is unexpected, and so (?:is|are) (\\d+) later (?:calls?|items?) of it`]: (facts, id, label, more) =>
    facts.of(label).filter((each) => each.id > Number(id)).length >= Number(more),
  [`one of (#\\d+(?:, #\\d+)*)(?: and \\d+ more)? (\\w+) is unexpected`]: (facts, ids, label) =>
    (ids ?? '').split(', ').every((id) => facts.named(id.slice(1), label)),
  [`${entry}: (\\.outcome|\\[0\\]) expected (.*?), received ([^;]*)(?:; .*)?`]: (facts, id, label, path, _, received) => {
    const found = facts.named(id, label);
    return found !== undefined && JSON.stringify(facts.at(found, path ?? '')) === received;
  },
  [`${entry} was called, expected (\\w+) with these arguments`]: (facts, id, label, other) =>
    isThere(facts, id ?? '', label ?? '') && label !== other,
  [`${pattern} is missing`]: () => true,
  [`${pattern} is missing between ${moment} and ${moment}`]: (facts, _, one, other) => facts.tick(one) < facts.tick(other),
  [`${pattern} is missing (?:after|before|while) ${moment}(?: was under way)?`]: (facts, _, one) => !Number.isNaN(facts.tick(one)),
  [`(?:neither|none of) .* came(?: between ${moment} and ${moment}| (?:after|before|while) ${moment}(?: was under way)?)?`]: (
    facts,
    one,
    other,
    only,
  ) => [one, other, only].every((each) => each === undefined || !Number.isNaN(facts.tick(each))),
  [`\\d+ (?:calls?|items?) of ${pattern} (?:is|are) missing`]: (facts, told = '') => facts.of(/^\w+/.exec(told)?.[0]).length > 0,
  [`(\\d+) (?:calls|items) are missing: ${pattern}(?:, .*?)? and (?:(\\d+) more|.*)`]: (facts, number, told = '', more = '1') =>
    facts.of(/^\w+/.exec(told)?.[0]).length > 0 && Number(more) < Number(number),
  [`[\\w, ]+ (?:is|are) missing(?: between ${moment} and ${moment}| (?:after|before|while) ${moment}(?: was under way)?)?`]: (
    facts,
    one,
    other,
    only,
  ) => (one === undefined || facts.tick(one) < facts.tick(other)) && (only === undefined || !Number.isNaN(facts.tick(only))),
  'nothing of (\\w+) was called: .* are missing': (facts, label) => facts.of(label).length === 0,
  'nothing was called: [\\w, ]+ (?:is|are) missing': (facts) => facts.last() === undefined,
  [`nothing came after ${entry}: [\\w, ]+ (?:is|are) missing`]: (facts, id) => facts.last()?.id === Number(id),
  [`after ${entry} the (\\w+) turn is missing: ([\\w, ]+); (?:nothing came after it|it goes on with ${entry})`]: (facts, id, label, _, __, next) => {
    const found = facts.named(id, label);
    return found !== undefined && facts.next(found)?.id === (next === undefined ? undefined : Number(next));
  },
  '#(\\d+) (?:and|to) #(\\d+) are one turn too many: ([\\w, ]+)': (facts, first, last, labels) => {
    const turn = facts.inside.filter(({ id }) => id >= Number(first) && id <= Number(last)).map(({ label }) => label);
    return turn.length > 1 && (labels ?? '').split(/, | and /).every((label) => turn.includes(label));
  },
  'one turn like #(\\d+) (?:and|to) #(\\d+) is missing: .*': (facts, first, last) =>
    [first, last].every((id) => facts.inside.some((each) => each.id === Number(id))),
  [`${moment} (?:came )?too early: expected after ${moment}`]: (facts, one, other) => facts.tick(one) < facts.tick(other),
  [`${moment} (?:came )?too late: expected before ${moment}`]: (facts, one, other) => facts.tick(one) > facts.tick(other),
  [`${moment} (?:came )?(?:too early|too late|once too often)`]: (facts, one) => !Number.isNaN(facts.tick(one)),
  [`${entry} and ${entry} came in the wrong order`]: (facts, id, label, other, another) =>
    isThere(facts, id ?? '', label ?? '') && isThere(facts, other ?? '', another ?? ''),
  [`${entry} came at the wrong place: expected(?: between ${moment} and ${moment}| (?:after|before|while) ${moment}(?: was under way)?)?`]: isThere,
  [`${pattern} never came after ${moment}(?:, and \\d+ more)?`]: (facts, said, one) => {
    const after = facts.tick(one);
    return !facts.matching(said).some((each) => (/^(fulfilled|rejected|settled) /.test(said ?? '') ? (each.ended ?? 0) : each.began) > after);
  },
  [`${moment}(?:, and \\d+ more)? came, and ${pattern} never did`]: (facts, one, said) =>
    !Number.isNaN(facts.tick(one)) && facts.matching(said).length === 0,
  [`${moment}(?:, and \\d+ more)? came without an earlier ${pattern}`]: (facts, one) => !Number.isNaN(facts.tick(one)),
  [`${moment}(?:, and \\d+ more)? came before ${moment}, expected after it`]: (facts, one, other) => facts.tick(one) < facts.tick(other),
  [`${entry} began(?: while (?:#\\d+ \\w+ was|(\\d+) others were) under way)?: (\\d+) at a time, expected .*`]: (facts, id, label, _, peak) => {
    const found = facts.named(id, label);
    const under = facts
      .of(label)
      .filter(({ began, ended }) => found !== undefined && began <= found.began && (ended ?? Number.POSITIVE_INFINITY) > found.began);
    return under.length >= Number(peak) || found === undefined || facts.inside[0]?.id !== 1;
  },
  'no call was under way, expected .* at a time': () => true,
  '#(\\d+) rain: \\[(\\d+)\\]\\S* expected .*': (facts, id, at) => facts.inside.filter(({ kind }) => kind === 'item')[Number(at)]?.id === Number(id),
  '(?:(?:#\\d+ )?rain): .*; (\\d+) items?, expected \\d+(?:; then .*)?': (facts, count) =>
    facts.inside.filter(({ kind }) => kind === 'item').length === Number(count),
  [`(?:(?:no certain match|\\d+ certainly match(?:es)?); )?cannot tell for ${entry}.*`]: isThere,
  'cannot tell: .*': () => true,
  [`${pattern} never occurred: the claim holds only because of that`]: () => true,
  '.* always holds: no record could break it': () => true,
};

const known = Object.entries(sentences).map(([text, check]) => [new RegExp(`^${text}$`), check] as const);

/** What is wrong with a sentence: nothing if it is known, and true of the record. */
export function falseIn(sentence: string, told: Told): string | undefined {
  const facts = new Facts(told);
  const plain = sentence.replace(/^it was reached, and then: /, '').replace(/, (?:twice|\d+ times)$/, '');
  const fitting = known.flatMap(([text, check]) => {
    const found = text.exec(plain);
    return found === null ? [] : [check(facts, ...found.slice(1))];
  });
  if (fitting.length === 0) return `unknown: ${sentence}`;
  return fitting.includes(true) ? undefined : `false: ${sentence}`;
}
