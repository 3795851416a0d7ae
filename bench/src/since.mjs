import { ClaimError, check, withLedger } from 'ekkon';
import { faults } from './depot/faults.mjs';
import { changesBetween, gradeOf } from './depot/grade.mjs';
import { claimsOn, stageShift } from './depot/stage.mjs';
import { inDepot, share, shiftWith } from './depot.mjs';

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
 * Prints how often a report names what changed first, if the record of the last passing run is at hand: in its first
 * line, and, if something else changed rightfully at the same time, in the two lines of its block.
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
