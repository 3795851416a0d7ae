import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ClaimError, call, check, once, withLedger } from 'ekkon';
import { faults } from './depot/faults.mjs';
import { changesBetween, gradeOf } from './depot/grade.mjs';
import { claimsOn, stageShift } from './depot/stage.mjs';
import { inDepot, share, shiftWith } from './depot.mjs';

/** Prints how well the last passing run explains a failure, and the cost. */
export async function benchSince() {
  await benchSinceDepot();
  await benchSinceCost();
}

/** Prints milliseconds: the cost of keeping a record when a test passes, and of comparing with it when one fails. */
async function benchSinceCost() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-since-'));
  console.log(
    '\nmilliseconds that the record of the last passing run adds to a test, the best of twenty',
  );
  const line = (what, found, aim) =>
    console.log(`${what.padEnd(52)} ${found.toFixed(1).padStart(7)}   aim ≤ ${aim}`);
  try {
    let round = 0;
    // The store of each run is its own: a name is used once in a run of tests.
    const lastPass = () => `${folder}${'/'.repeat(++round)}`;
    const same = await addedBy({ calls: 60 }, lastPass);
    line('60 calls, it passes', same, 2);
    const moving = await addedBy({ calls: 60, isMoving: true }, lastPass);
    line('60 calls, it passes, and a time differs in each', moving, 4);
    line('1,000 calls, it fails', await addedBy({ calls: 1_000, fails: true }, lastPass), 50);
    line('5,000 calls, it fails', await addedBy({ calls: 5_000, fails: true }, lastPass), 1_000);
    const far = { calls: 5_000, fails: true, isOther: true };
    line(
      '5,000 calls, it fails, and 1,000 of them are others',
      await addedBy(far, lastPass),
      1_000,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Milliseconds between a test that has the record of its last passing run, and the same without. */
async function addedBy(test, lastPass) {
  const name = `${JSON.stringify(test)}`;
  const passing = { ...test, fails: false, isOther: false };
  for (let pass = 0; pass < 3; pass++) await timeOfTest(passing, { name, lastPass: lastPass() });
  const [with_, without] = [[], []];
  for (let round = 0; round < 20; round++) {
    with_.push(await timeOfTest(test, { name, lastPass: lastPass() }));
    without.push(await timeOfTest(test, { name }));
  }
  return Math.min(...with_) - Math.min(...without);
}

async function timeOfTest({ calls, isMoving, isOther, fails }, options) {
  const began = performance.now();
  await withLedger(options, (ledger) => {
    const { dome, camera } = ledger.standIns();
    for (let at = 0; at < calls / 2; at++) {
      dome.turn(isOther && at % 5 === 0 ? -at : at);
      camera.expose({
        seconds: 30,
        filter: 'red',
        frame: at,
        time: isMoving ? Date.now() + at : 0,
      });
    }
    if (fails) dome.turn(-1);
    check(once(call(dome.turn, [fails ? -2 : 0])));
  }).catch((error) => {
    if (!(error instanceof ClaimError)) throw error;
  });
  return performance.now() - began;
}

/** Rightful changes of the program, or of its test, that have nothing to do with a fault. */
const beside = {
  'no other change': {},
  'a new log call': {
    fault: ['', "  lamp.show('green');\n", "  lamp.show('green');\n  books.flush('begin');\n"],
  },
  'a renamed double': { scaleName: 'weighbridge' },
  'an independent pair reordered': {
    fault: [
      '',
      "  gate.open();\n  lamp.show('green');\n",
      "  lamp.show('green');\n  gate.open();\n",
    ],
  },
};

/** A store for one run: it has the record of the run that passed, and keeps no other. */
function storeWith(kept, write = () => undefined) {
  return { read: () => kept, write };
}

/** One run of the shift as a test has it: the entries, and the error that it fails with. */
async function runTest(runShift, store, scaleName) {
  let entries = [];
  try {
    await withLedger({ name: 'shift', lastPass: store }, async (ledger) => {
      const { depot, lots } = stageShift(ledger, scaleName);
      try {
        await runShift(depot, lots);
      } finally {
        entries = ledger.entries();
      }
      check(claimsOn(depot));
    });
    return { entries };
  } catch (error) {
    return { entries, error };
  }
}

/**
 * Prints how often a report names the first change, if the record of the last passing run is at hand: in its first
 * line, and, if something else was changed on purpose at the same time, in the two lines of its block.
 */
export async function benchSinceDepot(told = () => undefined) {
  await inDepot(async (folder) => {
    let kept;
    const keep = storeWith(undefined, (_, record) => {
      kept = record;
    });
    const { error } = await runTest(await shiftWith([], folder, 'none'), keep);
    if (error !== undefined) throw error;
    for (const [name, { fault: other, scaleName }] of Object.entries(beside)) {
      const others = other === undefined ? [] : [other];
      const right = await shiftWith(others, folder, `${name} right`);
      const passed = await runTest(right, storeWith(undefined), scaleName);
      if (passed.error !== undefined) throw passed.error;
      const grades = {};
      const lengths = [];
      let made = 0;
      for (const [at, fault] of faults.entries()) {
        const run = await shiftWith([fault, ...others], folder, `${name} ${at}`);
        if (run === undefined) continue;
        const { entries, error } = await runTest(run, storeWith(kept), scaleName);
        if (!(error instanceof ClaimError)) continue;
        const lines = error.message.split('\n');
        const from = lines.findIndex((line) => line.startsWith('since it last passed'));
        const found = changesBetween(passed.entries, entries);
        const block = lines.slice(from + 1, from + 3);
        const looked = other === undefined && scaleName === undefined ? [lines[0]] : block;
        const all = looked.map((line) => gradeOf(line, found));
        const grade = all.includes('named') ? 'named' : all[0];
        grades[grade] = (grades[grade] ?? 0) + 1;
        lengths.push(lines[0].length);
        made++;
        told({ name, at, fault, grade, lines, found });
      }
      lengths.sort((one, other) => one - other);
      const where = name === 'no other change' ? 'first line' : 'block';
      const aim = name === 'no other change' ? 95 : 90;
      console.log(
        `${name.padEnd(30)}  ${where} names what changed ${share(grades.named ?? 0, made)}, aim ≥ ${aim}   (${made} faults; first line: median ${lengths[made >> 1]}, longest ${lengths.at(-1)})`,
      );
    }
  });
}
