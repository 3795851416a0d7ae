import type { Journal } from '../record/journal.ts';
import { judgementsOn } from '../rule/judgements.ts';
import { levelsIn } from '../rule/rules.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { builtinModules } from '../value/platform/builtin-modules.ts';
import { tell } from './tell.ts';

type Files = Pick<typeof import('node:fs'), 'writeFileSync' | 'statSync'>;

/** After how many milliseconds a file of an earlier run says nothing about this one. */
const oldAfter = 60 * 60 * 1_000;

/**
 * Says once a run that tests have notes, if the project has not chosen any rules: otherwise nobody would read them.
 */
export function tellNotes(journal: Journal): void {
  const { noted, levels } = judgementsOn(journal);
  const usual = levelsIn('usual');
  const isUsual = Object.entries(usual).every(([rule, level]) => levels[rule as never] === level);
  if (noted.length === 0 || !isUsual || !isFirstInRun()) return;
  const notes = noted.length === 1 ? '1 note' : `${noted.length} notes`;
  tell(
    `"${journal.name}" has ${notes}, and other tests may have some. summary(ledger) lists them; rules: 'careful', or EKKON_RULES=careful for the whole run, makes most of them failures. (This is said once a run.)`,
  );
}

let isSaid = false;

/** Whether no other process of this run has asked: a runner has several, which have one parent. */
function isFirstInRun(): boolean {
  if (isSaid) return false;
  isSaid = true;
  const load = builtinModules();
  if (load === undefined) return true;
  const files = load('node:fs');
  const run = load('node:worker_threads').isMainThread ? process.ppid : process.pid;
  const path = `${load('node:os').tmpdir()}/ekkon-notes-${run}`;
  try {
    files.writeFileSync(path, '', { flag: 'wx' });
    return true;
  } catch {
    return isOld(files, path);
  }
}

/** Whether a file was left by an earlier run whose process had the same number. */
function isOld(files: Files, path: string): boolean {
  try {
    if (intrinsics.Date.now() - files.statSync(path).mtimeMs < oldAfter) return false;
    files.writeFileSync(path, '', { flag: 'w' });
    return true;
  } catch {
    return false;
  }
}
