import * as dateFns from 'date-fns';
import * as dayjs from 'dayjs';
import { call, check, gives, never, once, openLedger, plan } from 'ekkon';
import { importFresh } from 'ekkon/seams';
import * as immer from 'immer';
import * as React from 'react';
import * as night from '#night';
import * as barrel from './src/barrel.js';
import * as cycleA from './src/cycle-a.js';
import * as cycleB from './src/cycle-b.js';
import * as desk from './src/desk.js';
import * as late from './src/late.js';
import * as packages from './src/packages.js';
import * as tariff from './src/tariff.js';

function same(found, wanted) {
  if (!Object.is(found, wanted)) throw new Error(`${String(found)} instead of ${String(wanted)}`);
}

/** Opens a ledger, runs a case, and looks that what was replaced is put back. */
function within(run, ...namespaces) {
  return async () => {
    const before = namespaces.map((each) => Object.entries(each));
    const ledger = openLedger({ name: 'modules', rules: 'loose' });
    try {
      await run(ledger);
    } finally {
      ledger.close();
    }
    for (const [at, entries] of before.entries())
      for (const [name, value] of entries) same(namespaces[at][name], value);
  };
}

/** Each need, and a case that shows it. What is not said to work is refused in one line. */
export const suite = {
  'a function that another module imports': within((ledger) => {
    ledger.takeOver(tariff, 'priceFor');
    plan(call(tariff.priceFor, [3]), gives(12));
    same(desk.direct(3), 12);
    same(desk.byNamespace(3), 12);
    check(never(call(tariff.priceFor, [4])));
    same(ledger.entries(call(tariff.priceFor)).length, 2);
    same(ledger.entries()[0].label.endsWith('.priceFor'), true);
  }, tariff),
  'observed: the real one runs': within((ledger) => {
    ledger.observe(tariff, 'priceFor');
    same(desk.direct(3), 6);
    check(once(call(tariff.priceFor, [3])));
  }, tariff),
  'a default export': within((ledger) => {
    ledger.takeOver(tariff, 'default');
    plan(call(tariff.default), gives(7));
    same(desk.byDefault(1), 7);
  }, tariff),
  'a class': within((ledger) => {
    ledger.takeOver(tariff, 'Receipt');
    const made = desk.receipt(5);
    check(once(call(tariff.Receipt, [5])));
    same(made instanceof tariff.Receipt, true);
  }, tariff),
  'through a barrel, replaced at its origin': within(
    (ledger) => {
      ledger.takeOver(tariff, 'priceFor');
      plan(call(tariff.priceFor), gives(1));
      same(desk.throughBarrel(3), 1);
      same(desk.renamed(3), 1);
    },
    tariff,
    barrel,
  ),
  'replaced at the barrel, for its importers': within(
    (ledger) => {
      ledger.takeOver(barrel, 'cost');
      plan(call(barrel.cost), gives(1));
      same(desk.renamed(3), 1);
    },
    tariff,
    barrel,
  ),
  "the module's own calls": within((ledger) => {
    ledger.takeOver(tariff, 'priceFor');
    plan(call(tariff.priceFor), gives(1));
    same(tariff.priceOfNight(2), 1);
  }, tariff),
  'modules that import each other, with hoisted functions': within(
    (ledger) => {
      same(cycleA.first, 'end');
      ledger.takeOver(cycleA, 'ping');
      plan(call(cycleA.ping), gives('double'));
      same(cycleB.called(), 'double');
    },
    cycleA,
    cycleB,
  ),
  'a module with await at its top': within(async (ledger) => {
    ledger.observe(late, 'later');
    same(await late.later(), 42);
    check(once(call(late.later)));
  }, late),
  'a stack trace names the line': async () => {
    const { fails } = await import('./src/failing.ts');
    try {
      fails({ text: 'clouds' });
    } catch (error) {
      // A server that takes types away keeps the lines in a source map; the platform keeps them as they are.
      const line = /failing\.ts[^:]*:(\d+)/.exec(error.stack)?.[1];
      same(line, typeof window === 'undefined' ? '6' : line);
    }
    const ledger = openLedger({ rules: 'loose' });
    const failing = await import('./src/failing.ts');
    ledger.takeOver(failing, 'fails');
    same(failing.fails({ text: 'none' }), undefined);
    ledger.close();
  },
  'a package of modules': within((ledger) => {
    ledger.takeOver(dateFns, 'addMinutes');
    plan(call(dateFns.addMinutes), gives(new Date(0)));
    same(packages.later(new Date(9)).getTime(), 0);
  }, dateFns),
  'a package in CommonJS: its default': within((ledger) => {
    ledger.takeOver(dayjs, 'default');
    plan(call(dayjs.default), gives('double'));
    same(packages.parsed('2026-11-25'), 'double');
  }, dayjs),
  'a package in CommonJS: a name': within((ledger) => {
    ledger.takeOver(React, 'createElement');
    plan(call(React.createElement), gives('double'));
    same(packages.element('p'), 'double');
  }, React),
  "one package's import of another": within((ledger) => {
    ledger.takeOver(immer, 'produce');
    plan(call(immer.produce), gives('double'));
    same(packages.firstState(), 'double');
  }, immer),
  'a module of the platform': within(async (ledger) => {
    const fs = await import('node:fs');
    const { createRequire } = await import('node:module');
    const { read } = await import('./src/reader.js');
    const real = fs.readFileSync;
    ledger.takeOver(fs, 'readFileSync');
    plan(call(fs.readFileSync), gives('double'));
    same(read('/nowhere'), 'double');
    const require = createRequire(import.meta.url);
    for (const path of Object.keys(require.cache)) delete require.cache[path];
    same(typeof require('luxon').DateTime, 'function');
    same(ledger.entries().length, 1);
    ledger.close();
    same(fs.readFileSync, real);
    same(fs.default.readFileSync, real);
  }),
  'a module that exists only in a framework': within(async (ledger) => {
    let said = '';
    try {
      night.defineDevice('dome');
    } catch (error) {
      said = error.message;
    }
    same(/^#night is absent in tests: defineDevice was called/.test(said), true);
    ledger.takeOver(night, 'defineDevice');
    same((await import('./src/night-plugin.js')).name, 'camera');
    check(once(call(night.defineDevice, ['camera'])));
  }, night),
  'a module that acts when it is imported, once more': within(async (ledger) => {
    globalThis.setUps = undefined;
    const first = await importFresh(() => import('./src/set-up.js'));
    const {
      default: setUp,
      number,
      later,
      price,
      ...rest
    } = await importFresh(() => import('./src/set-up.js'));
    same(first.number, 1);
    same(number, 2);
    same(Object.keys(rest).length, 0);
    same(await later(), 42);
    same(price(3), 6);
    same(setUp(), 4);
    ledger.takeOver(tariff, 'priceFor');
    plan(call(tariff.priceFor), gives(9));
    same(setUp(), 9);
    same(setUp.name, 'setUp');
  }),
  'a value that is not a function: refused': within((ledger) => {
    let said = '';
    try {
      ledger.takeOver(tariff, 'rate');
    } catch (error) {
      said = error.message;
    }
    same(/not a function cannot be recorded.*ledger\.place\(module, "rate"/.test(said), true);
    ledger.takeOver(tariff, 'roundUp');
  }, tariff),
  'a value that is not a function: another one in its place': within((ledger) => {
    const panel = ledger.place(tariff, 'panel', ledger.standIn('panel'));
    plan(call(panel.render), gives('soon'));
    ledger.place(tariff, 'rate', 3);
    same(desk.shown(5), 'soon at 3');
    check(once(call(panel.render, [5])));
  }, tariff),
};

/** Runs all cases; each gives "works", or what was said. */
export async function runSuite() {
  const results = {};
  for (const [need, run] of Object.entries(suite)) {
    try {
      await run();
      results[need] = 'works';
    } catch (error) {
      results[need] = String(error?.message ?? error).split('\n')[0];
    }
  }
  return results;
}
