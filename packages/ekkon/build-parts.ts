import { readFileSync } from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { calledFirst, halves, linesOf } from './build-first.ts';

export const source = fileURLToPath(new URL('src', import.meta.url));

/**
 * The parts that are loaded late, on first use. The sources import their modules like any others; the core may import
 * only functions from them.
 */
const late: Readonly<Record<string, RegExp>> = {
  /** Explains, and says in words, why a claim does not hold. */
  failing:
    /^(?:report\/(?!claim-error|verdict\.|summary\.)|alter\/|explain\/(?!diagnosis|window|pending-calls)|claim\/(?:order\/)?(?:explain-|order-problems)|rule\/explain-|grammar\/|since\/|judge\/blame|pattern\/fitting)/,
  /** Copies instances of classes, whose sources it reads. */
  classes:
    /^value\/(?:hidden-state|hands-on|class-source|declared-fields|copy-instance|platform\/read)/,
  /** Replaces members of real objects. */
  observing:
    /^(?:observe\/(?!source|follow)|double\/(?:property|constructible|fake)|pattern\/properties)/,
  /** Follows streams. */
  following: /^(?:observe\/(?:source|follow)|pattern\/streams)/,
  /** Maps places in a page's code back to its sources. */
  places: /^ledger\/page-source/,
  waiting: /^wait\/(?:claim-wait|until-quiet|attend|wait-promise|reach|stays)/,
  weighing: /^weigh\/(?!weigh-if-asked)/,
  /** Runs tests with a ledger each, and keeps how they passed. */
  running: /^ledger\/(?:with-ledger|last-pass|test-text|tell-notes)/,
  /** What each kind of events has. */
  events: /^value\/platform\/event-kinds/,
  /** Shows what was recorded. */
  looking: /^(?:ledger\/look-at|record\/shown-entry|value\/showing)/,
  /** Claims that are made less often, and what they account for. */
  claims:
    /^(?:claim\/(?:conforms|exact-items|in-flight|nothing-else|precedence|during|during-parts|stretches)\.|judge\/accounting|rule\/accounts)/,
  /** Matchers that are more than a value. */
  matchers:
    /^match\/(?:collections|of-schema|numbers|logic|such-that|type-of|texts|identical|json-text|ask|define-matcher)\./,
};

/** The module that every test loads, and those that its runner loads besides. */
export const index = 'index.ts';
const runners = ['vitest/index.ts', 'node/index.ts'];

/** What the loader itself calls. */
export const ofLoader = 'value/below.ts';

interface Imported {
  readonly from: string;
  readonly names: readonly string[];
  readonly text: string;
}

/** Behind the name of a source: its functions that an ordinary test does not call. */
export const later = '?later';

export function partOf(file: string): string | undefined {
  if (file.endsWith(later)) return `later-${dirname(file).split('/')[0]}`;
  return Object.keys(late).find((name) => late[name]?.test(file));
}

export const texts = new Map<string, string>();

/** A source, which is read once: many modules import from the same ones. */
export function read(file: string): string {
  const text = texts.get(file) ?? readFileSync(join(source, file), 'utf8');
  texts.set(file, text);
  return text;
}

/** The imports and re-exports of a source, types aside. */
export function importsOf(file: string, code = read(file)): readonly Imported[] {
  const statements = code.matchAll(
    /(?<=^|; )(?:import|export) (?!type )([^;]*?)from '(\.[^']+)';/gms,
  );
  return [...statements].flatMap(({ 0: text, 1: clause = '', 2: path = '' }) => {
    const listed = clause.replace(/[{}]/g, '').split(',');
    const names = listed.map((name) => name.trim()).filter((name) => name && !/^type /.test(name));
    const from = relative(source, join(source, dirname(file), path));
    return names.length === 0 ? [] : [{ from, names, text }];
  });
}

/** The functions that a source exports. */
export function functionsOf(file: string): readonly string[] {
  const found = read(file).matchAll(/^export (?:async )?function\*? ?(\w+)/gm);
  return [...new Set([...found].map(([, name = '']) => name))];
}

/** A name of an import, as its module has it. */
const original = (name: string) => name.replace(/ as .*/, '');

/**
 * The modules that call late parts and the core modules that they need, the entries of the late parts, those that are
 * entered for more than functions, and the imports of late parts from the core.
 */
function scan() {
  const [core, entered, visited] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const whole = new Set<string>();
  const given = new Map<string, Set<string>>();
  const visitCore = (file: string): void => {
    if (core.has(file)) return;
    core.add(file);
    for (const { from } of importsOf(file))
      if (partOf(from) === undefined) visitCore(from);
      else entered.add(from);
  };
  const visitLate = (file: string): void => {
    if (visited.has(file)) return;
    visited.add(file);
    texts.set(file, withLater(file));
    for (const { from, names } of importsOf(file)) {
      if (core.has(from)) {
        const known = given.get(from) ?? new Set();
        for (const name of names) known.add(original(name));
        given.set(from, known);
        continue;
      }
      if (partOf(from) !== undefined && partOf(from) !== partOf(file)) {
        entered.add(from);
        if (!givesFunctions(from, names)) whole.add(from);
      }
      visitLate(from);
    }
  };
  visitCore(index);
  const every = new Set(core);
  for (const file of runners) visitCore(file);
  for (const file of every) {
    if (file === ofLoader) continue;
    const from = { first: `./${basename(file)}`, later: `late:to/${file}${later}` };
    const split = halves(read(file), called.get(file) ?? new Set(), from);
    if (split === undefined) continue;
    firsts.set(file, split.first);
    texts.set(`${file}${later}`, split.later);
    moved.set(file, split.moved);
    entered.add(`${file}${later}`);
  }
  for (const file of entered) visitLate(file);
  return { core, entered, every, given, whole };
}

export function givesFunctions(file: string, names: readonly string[]): boolean {
  const functions = functionsOf(file);
  return names.every((name) => functions.includes(original(name)));
}

/** A source that is loaded late, which imports from the second halves of others what is there. */
function withLater(file: string): string {
  let text = read(file);
  for (const { from, names, text: statement } of importsOf(file)) {
    const there = names.filter((name) => moved.get(from)?.has(original(name)));
    if (there.length === 0) continue;
    const [, path = ''] = /'(\.[^']+)'/.exec(statement) ?? [];
    const rest = names.filter((name) => !there.includes(name));
    const first = rest.length === 0 ? '' : `import { ${rest.join(', ')} } from '${path}'; `;
    const second = `import { ${there.join(', ')} } from '${path}${later}';`;
    text = text.replace(statement, () => `${first}${second}${linesOf(statement)}`);
  }
  return text;
}

const called = await calledFirst(source);
export const firsts = new Map<string, string>();
const moved = new Map<string, ReadonlySet<string>>();
export const { core, entered, every, given, whole } = scan();

/** The late parts, each with the functions by which it is entered. */
export const parts = new Map(
  [...new Set([...entered].map(partOf))].map((part = '') => {
    const files = [...entered].filter((file) => partOf(file) === part);
    return [part, files.flatMap((file) => functionsOf(file).map((name) => ({ file, name })))];
  }),
);

/** The numbers of all functions of late parts: the core calls them by these. */
export const numbers = new Map(
  [...parts.values()].flat().map(({ file, name }, number) => [`${file} ${name}`, number]),
);

/** What the program itself may call, by its name. */
export const published = new Set(importsOf(index).flatMap(({ names }) => names.map(original)));
