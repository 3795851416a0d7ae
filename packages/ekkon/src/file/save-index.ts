import { closeSync, openSync, readdirSync, readSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { xml } from '../report/xml.ts';

const [ledgers, pages] = ['.ledger.jsonl', '.html'];

/** The start of a page, which holds its title and first finding. */
const bytesRead = 4_096;

/**
 * Writes a page that lists all tests with a ledger in a folder, each with its first finding. Every failing test
 * writes it anew, so the last one lists them all.
 */
export function writeIndex(folder: string): void {
  const names = readdirSync(folder);
  const items = names
    .filter((name) => name.endsWith(ledgers))
    .map((name) => name.slice(0, -ledgers.length))
    .sort()
    .map((name) => itemOf(folder, name, names.includes(`${name}${pages}`)));
  const place = join(folder, 'index.html');
  writeFileSync(`${place}.${process.pid}`, indexOf(items));
  renameSync(`${place}.${process.pid}`, place);
}

function itemOf(folder: string, name: string, hasPage: boolean): string {
  const draw = `ekkon draw ${name}${ledgers} -o ${name}${pages}`;
  if (!hasPage)
    return `<li><b>${xml(name)}</b><p>Make its page: <code>${xml(draw)}</code></p></li>`;
  const head = startOf(join(folder, `${name}${pages}`));
  const title = /<title>([^<]*)<\/title>/.exec(head)?.[1] ?? xml(name);
  const found = /<meta name="description" content="([^"]*)">/.exec(head)?.[1] ?? '';
  return `<li><a href="${xml(encodeURIComponent(`${name}${pages}`))}">${title}</a><p>${found}</p></li>`;
}

function startOf(path: string): string {
  const file = openSync(path, 'r');
  try {
    const start = Buffer.alloc(bytesRead);
    return start.subarray(0, readSync(file, start, 0, bytesRead, 0)).toString('utf8');
  } finally {
    closeSync(file);
  }
}

function indexOf(items: readonly string[]): string {
  const count = `${items.length} ${items.length === 1 ? 'test' : 'tests'}`;
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${count} · Ekkon</title>
<style>
:root { color-scheme: light dark }
body { font: 15px/1.5 system-ui, sans-serif; max-width: 60em; margin: 2em auto; padding: 0 1em }
li { margin-bottom: 0.8em }
p { margin: 0; font-family: ui-monospace, monospace; font-size: 13px; overflow-wrap: anywhere }
</style>
<h1>${count} with a saved ledger</h1>
<ul>
${items.join('\n')}
</ul>
</html>
`;
}
