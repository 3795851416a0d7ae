import { printCall } from '../notation/call.ts';
import { printPath, shortValue } from '../notation/value.ts';
import type { EntryChange } from './comparison.ts';
import { clip, entryMargin, type Layout, leftOut } from './layout.ts';
import { printSite } from './places.ts';
import { count } from './words.ts';

/** Differences of one entry that are shown. */
const differencesShown = 6;
/** Changes that are shown; the rest is counted. */
const changesShown = 200;

const signs = { gone: '-', new: '+', moved: '↕', changed: '~' } as const;

/** What differs between two records, a change at a time. */
export function comparisonText(changes: readonly EntryChange[], layout: Layout): string {
  const { paint } = layout;
  if (changes.length === 0) return paint('good', 'the records are the same');
  const totals = (['gone', 'new', 'moved', 'changed'] as const)
    .map((is) => [is, changes.filter((change) => change.is === is).length] as const)
    .filter(([, number]) => number > 0)
    .map(([is, number]) => `${number} ${is}`);
  const shown = changes.slice(0, changesShown);
  const left = leftOut(changes.length - shown.length, ['change', 'changes'], layout);
  return [
    paint(
      'heading',
      `${count(changes.length, 'entry differs', 'entries differ')}: ${totals.join(', ')}`,
    ),
    '',
    ...shown.flatMap((change) => changeLines(change, layout)),
    ...left,
  ].join('\n');
}

function changeLines(change: EntryChange, { width, paint }: Layout): readonly string[] {
  const { is, entry } = change;
  const room = Math.max(40, width - 40);
  const where =
    is === 'moved' || is === 'changed' ? `#${entry.id} → #${change.to.id}` : `#${entry.id}`;
  const site = printSite(is === 'moved' || is === 'changed' ? change.to.site : entry.site);
  const line = ` ${signs[is]} ${where.padEnd(12)} ${clip(printCall(entry), room)}   ${paint('faint', site)}`;
  const role = is === 'gone' ? 'received' : is === 'new' ? 'expected' : 'culprit';
  const head = paint(role, line.trimEnd());
  if (is !== 'changed') return [head];
  const told = change.differences.slice(0, differencesShown).map((difference) => {
    const side = (value: unknown, has: boolean) => (has ? shortValue(value, 60) : 'nothing');
    const was = side(difference.expected, 'expected' in difference);
    const now = side(difference.received, 'received' in difference);
    return `${entryMargin}   ${printPath(difference.path)}   was ${was}   is ${now}`;
  });
  const rest = change.differences.length - told.length;
  return [head, ...told, ...(rest > 0 ? [`${entryMargin}   … ${rest} more`] : [])];
}
