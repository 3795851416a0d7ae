import { URLPattern as Polyfill } from 'urlpattern-polyfill/urlpattern';

/** The result of a standard pattern for an address that it matches. */
interface Found {
  readonly hostname: { readonly groups: Groups };
  readonly pathname: { readonly groups: Groups };
  readonly search: { readonly groups: Groups };
}

interface Pattern {
  exec(address: string): Found | null;
}

type PatternClass = new (given: string | { readonly [part: string]: string }) => Pattern;

// The platform's own where there is one, as it was at load.
const { URLPattern: own } = globalThis as { readonly URLPattern?: PatternClass };
const PlatformPattern: PatternClass = own ?? (Polyfill as unknown as PatternClass);

/** Tells whether an address matches a pattern, and the values at its named places. */
export type ReadAddress = (address: string) => Readonly<Record<string, string>> | undefined;

/**
 * Reads a pattern of the URLPattern standard: a path, with or without a query, that may be of any server; or a whole
 * address.
 *
 * @throws TypeError if it is none
 */
export function readPattern(text: string): ReadAddress {
  const pattern = new PlatformPattern(text.startsWith('/') ? pathIn(text) : text);
  return (address) => {
    const found = pattern.exec(address);
    if (found === null) return undefined;
    const { hostname, pathname, search } = found;
    return { ...named(hostname.groups), ...held(pathname.groups), ...named(search.groups) };
  };
}

type Groups = Readonly<Record<string, string | undefined>>;

/** The values at the places of an address; places without a name have a number. */
function held(groups: Groups): Readonly<Record<string, string>> {
  return Object.fromEntries(
    Object.entries(groups).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
  );
}

/** Outside of the path only named values: the rest of an address is often open. */
function named(groups: Groups): Readonly<Record<string, string>> {
  return Object.fromEntries(Object.entries(held(groups)).filter(([name]) => !/^\d+$/.test(name)));
}

function pathIn(text: string): { readonly [part: string]: string } {
  const at = text
    .split('')
    .findIndex((letter, place) => letter === '?' && beginsQuery(text, place));
  return at < 0 ? { pathname: text } : { pathname: text.slice(0, at), search: text.slice(at + 1) };
}

/** A question mark behind a group, or a part that ends in one, belongs to the pattern and begins no query. */
function beginsQuery(text: string, at: number): boolean {
  const before = text[at - 1] ?? '';
  return !/[)}*\w]/.test(before) || (/[/\w]/.test(before) && /^\w+=/.test(text.slice(at + 1)));
}
