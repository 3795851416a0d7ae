import { useState } from 'react';
import { escapeControls } from '#core/value/escape.ts';
import { inShort, valueParts } from './value-parts.ts';

/** Parts of a value that are listed before somebody asks for more. */
const listedAtOnce = 100;

/** A value as a tree that unfolds; a value without parts is one line. */
export function ValueTree({ label, value }: { readonly label: string; readonly value: unknown }) {
  const [isOpen, setOpen] = useState(false);
  const [listed, setListed] = useState(listedAtOnce);
  const parts = valueParts(value);
  const head = (
    <>
      <span className="path">{label}</span> <code>{inShort(value)}</code>
    </>
  );
  if (typeof value === 'string' && value.length > longFrom)
    return (
      <details className="value">
        <summary>{head}</summary>
        <LongText text={value} />
      </details>
    );
  if (parts.length === 0) return <div className="value">{head}</div>;
  return (
    <details
      className="value"
      onToggle={(event) => setOpen((event.currentTarget as HTMLDetailsElement).open)}
    >
      <summary>{head}</summary>
      {isOpen &&
        parts
          .slice(0, listed)
          .map((part) => <ValueTree key={part.label} label={part.label} value={part.value} />)}
      {isOpen && parts.length > listed && (
        <button
          type="button"
          className="entry-link"
          onClick={() => setListed(listed + listedAtOnce * 10)}
        >
          … {parts.length - listed} more
        </button>
      )}
    </details>
  );
}

/** Letters from which a text is cut in its line. */
const longFrom = 80;

/** A text as it is, with a way to take it along. */
function LongText({ text }: { readonly text: string }) {
  const [isCopied, setCopied] = useState(false);
  const copy = async () => {
    await navigator.clipboard.writeText(text);
    setCopied(true);
  };
  return (
    <>
      <pre className="whole">{escapeControls(text)}</pre>
      <button type="button" className="entry-link" onClick={copy}>
        {isCopied ? 'copied' : 'copy'}
      </button>
    </>
  );
}
