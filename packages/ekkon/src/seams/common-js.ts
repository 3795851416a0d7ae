import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { initSync, parse } from 'cjs-module-lexer';
import { readModule } from './prepare.ts';

initSync();

/** Whether a package's file is CommonJS: the one kind whose exports are not bindings. */
export function isCommonJs(file: string): boolean {
  if (!/\.c?js$/.test(file)) return false;
  if (file.endsWith('.cjs')) return true;
  const [, , , isModule] = readModule(readFileSync(file, 'utf8')) ?? [];
  return isModule !== true;
}

/**
 * The names that a CommonJS module exports as far as its source shows them, `default` included.
 *
 * @param file the module's path
 */
export function namesOfCommonJs(file: string): readonly string[] {
  const names = new Set<string>(['default']);
  const seen = new Set<string>();
  const visit = (each: string): void => {
    if (seen.has(each)) return;
    seen.add(each);
    let found: ReturnType<typeof parse>;
    try {
      found = parse(readFileSync(each, 'utf8'));
    } catch {
      // JSON, native code, or code that the lexer cannot read: its default export has all of it.
      return;
    }
    for (const name of found.exports) if (name !== '__esModule') names.add(name);
    for (const specifier of found.reexports) {
      const next = resolved(specifier, each);
      if (next !== undefined) visit(next);
    }
  };
  visit(file);
  return [...names];
}

function resolved(specifier: string, from: string): string | undefined {
  try {
    return createRequire(from).resolve(specifier);
  } catch {
    return undefined;
  }
}
