// Observes each built-in that the built library mentions, while a check fails, is reported, kept and printed: no
// entry may be made but the program's own. Prints what was recorded beside it, and how many were observed.
import { readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parse } from 'acorn';
import { saveLedger } from '../../dist/file.js';
import { call, check, once, openLedger, suchThat, summary, typeOf } from '../../dist/index.js';

const dist = fileURLToPath(new URL('../../dist', import.meta.url));
const mentioned = new Set();

/** Notes every name that a source mentions. */
function note(node) {
  if (Array.isArray(node)) return node.forEach(note);
  if (typeof node !== 'object' || node === null) return;
  if (node.type === 'Identifier') mentioned.add(node.name);
  for (const key of Object.keys(node)) if (key !== 'type') note(node[key]);
}
for (const file of readdirSync(dist).filter((name) => name.endsWith('.js')))
  note(parse(readFileSync(join(dist, file), 'utf8'), { ecmaVersion: 'latest', sourceType: 'module' }));

/** Objects of the platform, with the names of members that are mentioned. */
function* places() {
  for (const name of Object.getOwnPropertyNames(globalThis)) {
    if (!mentioned.has(name) || name === 'globalThis') continue;
    const value = globalThis[name];
    if (typeof value === 'function') yield [globalThis, name, name];
    if ((typeof value !== 'object' && typeof value !== 'function') || value === null) continue;
    for (const [holder, shown] of [
      [value, name],
      [value.prototype, `${name}.prototype`],
    ])
      if (typeof holder === 'object' || typeof holder === 'function')
        for (const key of holder === null ? [] : Object.getOwnPropertyNames(holder))
          if (mentioned.has(key) && key !== 'prototype' && key !== 'constructor') yield [holder, key, `${shown}.${key}`];
  }
}

class Frame extends Map {
  seconds = 30;
}
const values = () => [
  { at: new Date(0), every: [1.5, -0, 10n, Symbol('dusk'), null], like: /a+/gi },
  new Frame([[1, new Set(['x', { y: 1 }])]]),
  new URL('http://archive.example/frames?night=4'),
  new Uint8Array([1, 2]),
  new TypeError('clouds', { cause: 'rain' }),
  Object('boxed'),
  Array.from({ length: 40 }, (_, at) => ({ id: `frame-${at}`, at })),
  'a long text that differs in its middle, so that a difference of texts is told as well',
];

const [, , folder = tmpdir()] = process.argv;
const found = [];
let observed = 0;
for (const [holder, key, name] of places()) {
  const ledger = openLedger({ rules: 'usual', name: 'own calls' });
  try {
    ledger.observe(holder, key);
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    continue;
  }
  observed++;
  const dome = ledger.standIn('dome');
  const given = values();
  const own = ledger.entries().length;
  dome.open(...given);
  const made = ledger.entries().length - own - 1;
  const wanted = values();
  wanted[0].every = [2];
  wanted[1].set(2, 3);
  wanted[6].reverse();
  wanted[7] = wanted[7].replace('middle', 'centre');
  const before = ledger.entries().length;
  try {
    check(once(call(dome.open, wanted)), once(call(dome.open, [suchThat(() => false), typeOf('string')])));
  } catch (error) {
    for (const { message } of error.verdict.findings) String(message);
  }
  summary(ledger);
  saveLedger(ledger, join(folder, 'own-calls.ledger'));
  const after = ledger.entries().length;
  if (after > before || made > 0) found.push(`${name}: ${after - before + made}`);
  try {
    ledger.close();
  } catch {
    // What its claims did not find does not matter here.
  }
}
process.stdout.write(JSON.stringify({ observed, found }));
