import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ClaimError, check } from 'ekkon';
import { faults } from './depot/faults.mjs';
import { changesBetween, gradeOf, names } from './depot/grade.mjs';
import { claimsOn, stageShift } from './depot/stage.mjs';

const source = readFileSync(new URL('./depot/shift.mjs', import.meta.url), 'utf8');

/** The shift with some faults in its code, in a folder of its own; `undefined` if they do not go together. */
export async function shiftWith(made, folder, number) {
  let code = source;
  for (const [, find, instead] of made) {
    if (!code.includes(find)) return undefined;
    code = code.replace(find, () => instead);
  }
  const file = join(folder, String(number), 'shift.mjs');
  mkdirSync(join(folder, String(number)));
  writeFileSync(file, code);
  process.chdir(join(folder, String(number)));
  const { runShift } = await import(pathToFileURL(file).href);
  return runShift;
}

/** Runs the shift with some faults in its code, and checks the claims. */
async function runWith(made, folder, number) {
  const runShift = await shiftWith(made, folder, number);
  if (runShift === undefined) return undefined;
  const { ledger, depot, lots } = stageShift();
  try {
    await runShift(depot, lots);
  } catch (error) {
    return { threw: error };
  }
  const entries = ledger.entries();
  try {
    check(claimsOn(depot));
    return { entries };
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    return { entries, error };
  }
}

const ignore = () => undefined;

export const share = (count, of) => `${((100 * count) / of).toFixed(1)} in 100`;

/**
 * Prints, for faults made in the code of a program, how often the first line of the report names the culprit, and for
 * two faults at a time whether both are told. `told` is given each report.
 */
export async function benchDepot(told = () => undefined) {
  await inDepot(async (folder) => {
    const { entries: passed, error } = await runWith([], folder, 'none');
    if (error !== undefined) throw error;
    const grades = { named: 0, effect: 0, blamed: 0, unclear: 0 };
    const lengths = [];
    const noticed = [];
    let [threw, unnoticed] = [0, 0];
    for (const [at, fault] of faults.entries()) {
      const run = await runWith([fault], folder, at);
      if (run.threw !== undefined) threw++;
      else if (run.error === undefined) unnoticed++;
      else {
        const found = changesBetween(passed, run.entries);
        const [first] = run.error.message.split('\n');
        const grade = gradeOf(first, found);
        grades[grade] = (grades[grade] ?? 0) + 1;
        lengths.push(first.length);
        noticed.push({ fault, change: found.changes[0] });
        told({
          at,
          fault,
          grade,
          first,
          found,
          report: run.error.message,
          verdict: run.error.verdict,
        });
      }
    }
    const made = noticed.length;
    lengths.sort((one, other) => one - other);
    console.log(
      `\na depot with ${made} faults in its code that its claims notice (${unnoticed} they do not, ${threw} throw)`,
    );
    console.log(
      `first line names the culprit ${share(grades.named, made)}, aim ≥ 85; an effect ${share(grades.effect, made)}; a call that is as it was ${share(grades.blamed, made)}, aim ≤ 2; neither ${share(grades.unclear, made)}`,
    );
    console.log(
      `length of the first line: median ${lengths[made >> 1]}, aim ≤ 110; longest ${lengths.at(-1)}, aim ≤ 200`,
    );
    await benchPairs(noticed, folder, passed, told);
  });
}

/** Runs something in a folder that goes again. */
export async function inDepot(run) {
  const home = process.cwd();
  // Faulty code leaves promises to themselves.
  process.on('unhandledRejection', ignore);
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-depot-'));
  try {
    await run(folder);
  } finally {
    process.off('unhandledRejection', ignore);
    process.chdir(home);
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Two faults at a time: both have to be told. */
async function benchPairs(noticed, folder, passed, told) {
  let [made, both] = [0, 0];
  for (let at = 0; made < 40 && at < 400; at++) {
    const [one, other] = [
      noticed[(at * 7) % noticed.length],
      noticed[(at * 11 + 29) % noticed.length],
    ];
    if (one.change === undefined || other.change === undefined) continue;
    if (one.fault[1] === other.fault[1] || isNear(one.change, other.change)) continue;
    const run = await runWith([one.fault, other.fault], folder, `pair-${at}`);
    if (run?.error === undefined) continue;
    made++;
    const { message } = run.error;
    const isTold = [one, other].every(({ change }) => tellsOf(message, change));
    if (isTold) both++;
    told({
      at: `pair-${at}`,
      fault: [one.fault, other.fault],
      grade: isTold ? 'both' : 'one',
      first: message.split('\n')[0],
      found: changesBetween(passed, run.entries),
      report: message,
      verdict: run.error.verdict,
    });
  }
  console.log(`two faults at a time: both told in ${both} of ${made}`);
}

function isNear(one, other) {
  return (one.was ?? one.now).label === (other.was ?? other.now).label;
}

/** Whether a report tells of a change: the numbers of calls are others if there is a second fault. */
function tellsOf(message, { is, was, now, ...rest }) {
  const lines = message.split('\n');
  const label = (was ?? now).label;
  if (is === 'changed')
    return lines.some((line) =>
      names(line.replaceAll(/#\d+ /g, `#${now.id} `), { is, was, now, ...rest }),
    );
  return lines.some(
    (line) =>
      line.includes(label) &&
      /missing|never|unexpected|too many|expected|early|late|before|after|order/.test(line),
  );
}
