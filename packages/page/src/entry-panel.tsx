import { printCall } from '#core/notation/call.ts';
import type { Entry } from '#core/record/entry.ts';
import { printSite } from '#core/report/places.ts';
import { escapeControls } from '#core/value/escape.ts';
import { Button } from './controls.tsx';
import { ValueTree } from './value-tree.tsx';

interface Props {
  readonly entry: Entry;
  readonly onEntry: (id: number) => void;
  readonly onClose: () => void;
}

/** All that was recorded of one entry. */
export function EntryPanel({ entry, onEntry, onClose }: Props) {
  const { id, args, kind, site, answer, parent, began, ended, at, outcome } = entry;
  const place = printSite(site);
  return (
    <section aria-label={`Entry #${id}`} className="entry-panel">
      <div className="entry-head">
        <h2 title={escapeControls(printCall(entry))}>
          #{id} <code>{escapeControls(printCall(entry))}</code>
        </h2>
        <Button label="Close the entry" onClick={onClose}>
          ✕
        </Button>
      </div>
      <dl>
        <dt>ticks</dt>
        <dd>
          {began} to {ended ?? 'the end of the record: it has not ended'}
          {at.ended !== undefined && `, ${at.ended - at.began} ms`}
        </dd>
        {place !== '' && (
          <>
            <dt>called at</dt>
            <dd>
              <code>{place}</code>
            </dd>
          </>
        )}
        {parent !== undefined && (
          <>
            <dt>during</dt>
            <dd>
              <button type="button" className="entry-link" onClick={() => onEntry(parent)}>
                #{parent}
              </button>
            </dd>
          </>
        )}
        {answer !== undefined && (
          <>
            <dt>answered by</dt>
            <dd>
              the plan <code>{answer.plan}</code>: <code>{answer.reply}</code>
            </dd>
          </>
        )}
        {(args.length > 0 || kind === 'call') && <dt>arguments</dt>}
        {args.length > 0 ? (
          <dd>
            {args.map((value, place) => (
              <ValueTree key={place} label={`[${place}]`} value={value} />
            ))}
          </dd>
        ) : (
          kind === 'call' && <dd>none</dd>
        )}
        <dt>outcome</dt>
        <dd>
          {'value' in outcome ? (
            <ValueTree label={outcome.state} value={outcome.value} />
          ) : 'reason' in outcome ? (
            <ValueTree label={outcome.state} value={outcome.reason} />
          ) : (
            outcome.state
          )}
        </dd>
      </dl>
    </section>
  );
}
