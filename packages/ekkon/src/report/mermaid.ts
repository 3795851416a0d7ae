import { printWithin } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { escapeControls } from '../value/escape.ts';
import { isAtOnce, laneLayout, type MarkShown } from './lane-layout.ts';
import { clip } from './layout.ts';

type Shown = Omit<Entry, 'liveArgs'>;

/** A record as a Mermaid sequence diagram: the calls between doubles, and how they ended. */
export function mermaidText(
  title: string,
  entries: readonly Shown[],
  marks: readonly MarkShown[] = [],
): string {
  const { rows, doubles } = laneLayout(entries, marks);
  const byId = new Map(entries.map((entry) => [entry.id, entry]));
  const participant = (double: string) => `d${doubles.indexOf(double)}`;
  const caller = ({ parent }: Shown) => {
    const outer = parent === undefined ? undefined : byId.get(parent);
    return outer === undefined ? 'code' : participant(outer.double);
  };
  const across = ['code', participant(doubles.at(-1) ?? '')];
  const lines = rows.map((row) => {
    if ('mark' in row)
      return `  Note over ${doubles.length === 0 ? 'code' : across.join(',')}: ${said(`mark ${row.mark.label ?? ''}`.trimEnd())}`;
    const { entry, end } = row;
    const [from, to] = [caller(entry), participant(entry.double)];
    const isOfStream = ['item', 'end', 'failure'].includes(entry.kind);
    if (end) return `  ${to}-->>${from}: ${said(entry.outcome.state)}`;
    if (isOfStream) return `  ${to}-)code: ${said(printWithin(entry))}`;
    const back =
      isAtOnce(entry) && entry.outcome.state === 'threw' ? `\n  ${to}--x${from}: threw` : '';
    return `  ${from}->>${to}: #${entry.id} ${said(printWithin(entry))}${back}`;
  });
  return [
    'sequenceDiagram',
    `  accTitle: ${said(title)}`,
    '  participant code as code under test',
    ...doubles.map((double) => `  participant ${participant(double)} as ${said(double)}`),
    ...lines,
    '',
  ].join('\n');
}

/** Text that Mermaid takes for nothing but text. */
function said(text: string): string {
  const plain = clip(escapeControls(text), 80);
  return plain.replace(/[#;<>&%{}"`\\:]/g, (sign) => `#${sign.charCodeAt(0)};`) || '#8203;';
}
