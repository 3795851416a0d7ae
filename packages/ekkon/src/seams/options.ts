import picomatch from 'picomatch';
import { shortValue } from '../notation/value.ts';
import type { Below } from '../value/below.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';

/** The replaceable modules besides the project's own. */
export interface SeamOptions {
  /** Packages, `'date-fns'`, the platform's modules, `'node:fs'`, and globs of modules below the project's folder. */
  readonly of?: readonly string[];
  /** Packages whose own imports of these are to be reached too. */
  readonly through?: readonly string[];
  /** Modules that exist only inside a framework, each with its exports: `{ '#night': ['defineDevice'] }`. */
  readonly absent?: Readonly<Record<string, readonly string[]>>;
}

/** The options as they are used. */
export interface HeldSeamOptions {
  readonly of: readonly string[];
  /** Those that are packages, by their bare names. */
  readonly packages: readonly string[];
  readonly through: readonly string[];
  readonly absent: ReadonlyMap<string, readonly string[]>;
  /** Whether an import names one of the packages, or a module of one. */
  isOf(specifier: string): boolean;
  /** Whether a file belongs to one of the packages, or fits one of the globs. */
  isFileOf(path: string): boolean;
}

/** Checks the options of `seams()` and of `registerSeams()`. */
export function readSeamOptions(options: SeamOptions | undefined, below: Below): HeldSeamOptions {
  readOptions(options, ['of', 'through', 'absent'], below);
  const { of = [], through = [], absent = {} } = options ?? {};
  for (const [name, list] of [
    ['of', of],
    ['through', through],
  ] as const) {
    if (!isNames(list))
      refuse(
        `${below.name}(): ${name} must be a list of names, not ${shortValue(list)}. Write { ${name}: ['date-fns'] }.`,
        below,
      );
  }
  const isRecord = typeof absent === 'object' && absent !== null && !Array.isArray(absent);
  if (!isRecord || !Object.values(absent).every(isNames))
    refuse(
      `${below.name}(): absent must give each module the names it exports, not ${shortValue(absent)}. Write { absent: { '#night': ['defineDevice'] } }.`,
      below,
    );
  return held(of, through, new Map(Object.entries(absent)));
}

function isNames(value: unknown): value is readonly string[] {
  return Array.isArray(value) && value.every((each) => typeof each === 'string' && each !== '');
}

function held(
  of: readonly string[],
  through: readonly string[],
  absent: ReadonlyMap<string, readonly string[]>,
): HeldSeamOptions {
  const globs = of.filter((each) => /[*?{[]|^\.|^\//.test(each));
  const packages = of.filter((each) => !globs.includes(each)).map(bare);
  const fits = picomatch(globs.map((glob) => glob.replace(/^\.\//, '')));
  return {
    of,
    packages,
    through,
    absent,
    isOf: (specifier) =>
      packages.some((name) => bare(specifier) === name || specifier.startsWith(`${name}/`)),
    isFileOf: (path) =>
      packages.includes(packageOf(path) ?? '') || (globs.length > 0 && fits(path)),
  };
}

/** The platform's modules by one of their two names. */
function bare(specifier: string): string {
  return specifier.replace(/^node:/, '');
}

/** The package that a file belongs to, if it lies in one that is installed. */
export function packageOf(path: string): string | undefined {
  const rest = path.split(/[/\\]node_modules[/\\]/);
  if (rest.length < 2) return path.startsWith('node_modules/') ? packageOf(`/${path}`) : undefined;
  const [first = '', second = ''] = (rest.at(-1) ?? '').split(/[/\\]/);
  return first.startsWith('@') ? `${first}/${second}` : first;
}
