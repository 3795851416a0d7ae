import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { printCall } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import { laneLayout } from '#core/report/lane-layout.ts';
import type { PageRecord } from '#core/report/page-data.ts';
import type { ToldFinding, ToldVerdict } from '#core/report/told.ts';
import { sideBySide } from '#core/since/side-by-side.ts';
import { escapeControls } from '#core/value/escape.ts';
import { ClaimBox } from './claim-box.tsx';
import { Button, Tabs } from './controls.tsx';
import { EntryPanel } from './entry-panel.tsx';
import { type JudgedText, judgeText } from './judge-text.ts';
import { Lanes, type Looked } from './lanes.tsx';
import { openRecord } from './open-record.ts';
import type { Place } from './place.ts';
import { SideBySide } from './side-by-side.tsx';
import { SincePanel } from './since-panel.tsx';
import { VerdictPanel } from './verdict-panel.tsx';
import { WeightPanel } from './weight-panel.tsx';
import './page.css';

interface Props {
  readonly record: PageRecord;
  /** The first event to show. */
  readonly place?: Omit<Place, 'record'>;
  /** Told when something else is looked at. */
  readonly onPlace?: (place: Omit<Place, 'record'>) => void;
}

const tabs = [
  { value: 'verdict', label: 'Verdict' },
  { value: 'since', label: 'Since it passed' },
  { value: 'claims', label: 'Claims' },
  { value: 'weight', label: 'Weight' },
] as const;

type Tab = (typeof tabs)[number]['value'];

const zooms = [0.6, 0.8, 1, 1.25, 1.6] as const;

/** A record to look at: its lanes, its findings, claims to try, and the changes that they would not notice. */
export function Report({ record, place, onPlace }: Props) {
  const opened = useMemo(() => openRecord(record), [record]);
  const [claims, setClaims] = useState(place?.claims ?? record.claims);
  const [tab, setTab] = useState<Tab>('verdict');
  const [chosen, setChosen] = useState<number>();
  const [looked, setLooked] = useState<Looked | undefined>(
    place?.entry === undefined ? undefined : { entry: place.entry, end: false },
  );
  // The lanes open at the first call that is wrong; nobody has asked for all of it yet.
  const [isAsked, setAsked] = useState(place?.entry !== undefined);
  const lanes = useRef<HTMLElement>(null);
  const [filter, setFilter] = useState('');
  const [zoom, setZoom] = useState(2);
  const [collapsed, setCollapsed] = useState<ReadonlySet<string>>(new Set());

  const isOwn = claims === record.claims;
  const judged = useMemo<JudgedText | undefined>(() => {
    if (isOwn && record.verdict !== undefined) return { is: 'judged', verdict: record.verdict };
    return claims.trim() === '' ? undefined : judgeText(opened, claims);
  }, [opened, record, claims, isOwn]);
  const verdict = judged?.is === 'judged' ? judged.verdict : undefined;
  const since = verdict?.since;
  const shownTab = tab === 'since' && since === undefined ? 'verdict' : tab;
  const finding = chosen === undefined ? undefined : verdict?.findings[chosen];

  const beside = useMemo(
    () => (record.passed === undefined ? undefined : sideBySide(record.passed, opened.journal)),
    [record, opened],
  );

  const shown = useMemo(() => {
    const asked = filter.trim().toLowerCase();
    if (asked === '') return opened.entries;
    return opened.entries.filter(({ held }) =>
      printCall(entryData(held)).toLowerCase().includes(asked),
    );
  }, [opened, filter]);
  const layout = useMemo(() => laneLayout(shown, opened.journal.marks), [shown, opened]);

  useEffect(() => {
    onPlace?.({
      ...(looked === undefined || !isAsked ? {} : { entry: looked.entry }),
      ...(isOwn ? {} : { claims }),
    });
  }, [looked, isAsked, claims, isOwn, onPlace]);

  useEffect(() => {
    if (isAsked || verdict === undefined) return;
    const places = verdict.groups.flatMap(({ findings }) => findings);
    const at = places.find((each) => momentOf(verdict, each) !== undefined);
    if (at === undefined) return;
    setChosen(at);
    setLooked(momentOf(verdict, at));
  }, [record]);

  const look = useCallback((at: Looked) => {
    setAsked(true);
    setLooked({ ...at });
  }, []);
  const lookAt = (entry: number, end = false) => {
    if (entry > opened.entries.length) return;
    if (!shown.some(({ id }) => id === entry)) setFilter('');
    look({ entry, end });
    // Below each other there is no room for both.
    if (matchMedia(narrow).matches) lanes.current?.scrollIntoView({ block: 'start' });
  };
  const choose = (at: number) => {
    setChosen(at);
    const moment = verdict && momentOf(verdict, at);
    if (moment !== undefined) lookAt(moment.entry, moment.end);
  };
  const change = (text: string) => {
    setChosen(undefined);
    setClaims(text);
  };
  const collapse = useCallback(
    (double: string) =>
      setCollapsed((now) => {
        const next = new Set(now);
        if (!next.delete(double)) next.add(double);
        return next;
      }),
    [],
  );

  const isBeside = shownTab === 'since' && beside !== undefined;
  const entry = looked === undefined || !isAsked ? undefined : opened.entry(looked.entry);
  const { entries } = opened;
  return (
    <div className="report">
      <header className="report-head">
        <h1>{escapeControls(opened.name)}</h1>
        <p className="faint">
          {entries.length.toLocaleString('en')} {entries.length === 1 ? 'entry' : 'entries'}
          {record.whole !== undefined &&
            ` are shown, the first of ${record.whole.toLocaleString('en')}`}{' '}
          · {escapeControls(record.file)}
          {opened.truncated && ' · its last line is cut off'}
        </p>
      </header>
      <div className="side">
        <Tabs
          label="What to look at"
          tabs={tabs.filter(({ value }) => value !== 'since' || since !== undefined)}
          value={shownTab}
          onChange={setTab}
        />
        <div
          role="tabpanel"
          id="panel"
          aria-labelledby={`tab-${shownTab}`}
          className="panel"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key.
          tabIndex={0}
        >
          {shownTab === 'since' && since !== undefined && (
            <SincePanel since={since} onEntry={(id) => lookAt(id)} />
          )}
          {shownTab === 'claims' && (
            <ClaimBox
              claims={claims}
              problem={judged?.is === 'unread' ? judged.why : undefined}
              isChanged={!isOwn}
              onChange={change}
              onReset={() => change(record.claims)}
            />
          )}
          {(shownTab === 'verdict' || shownTab === 'claims') &&
            (verdict === undefined ? (
              <p className="faint">
                {judged === undefined
                  ? 'No claims are given. Write some under Claims, for example: once dome.open'
                  : 'The claims cannot be read; see Claims.'}
              </p>
            ) : (
              <VerdictPanel
                verdict={verdict}
                chosen={chosen}
                onChoose={choose}
                onEntry={(id) => lookAt(id)}
              />
            ))}
          {shownTab === 'weight' && (
            <WeightPanel
              record={opened}
              claims={claims}
              onEntry={(id) => lookAt(id)}
              onAdd={(claim) => change(`${claims.trimEnd()}\n${claim}\n`)}
            />
          )}
        </div>
      </div>
      <section className="middle" aria-label="Lanes" ref={lanes}>
        <div className="tools" hidden={isBeside}>
          <input
            type="search"
            placeholder="Filter by text"
            aria-label="Filter by text"
            value={filter}
            onInput={(event) => setFilter((event.target as HTMLInputElement).value)}
          />
          <span className="faint" aria-live="polite">
            {shown.length === entries.length
              ? ''
              : `${shown.length.toLocaleString('en')} of ${entries.length.toLocaleString('en')}`}
          </span>
          <Legend finding={finding} isAtFault={(verdict?.findings.length ?? 0) > 0} />
          <span className="zoom">
            <Button label="Smaller rows" isDisabled={zoom === 0} onClick={() => setZoom(zoom - 1)}>
              −
            </Button>
            <Button
              label="Larger rows"
              isDisabled={zoom === zooms.length - 1}
              onClick={() => setZoom(zoom + 1)}
            >
              +
            </Button>
          </span>
        </div>
        {isBeside ? (
          <SideBySide
            rows={beside}
            looked={isAsked ? looked?.entry : undefined}
            onEntry={(id) => lookAt(id)}
          />
        ) : (
          <Lanes
            layout={layout}
            zoom={zooms[zoom] ?? 1}
            collapsed={collapsed}
            onCollapse={collapse}
            findings={verdict?.findings ?? none}
            finding={finding}
            looked={looked}
            onLook={look}
          />
        )}
        {entry !== undefined && (
          <EntryPanel
            key={entry.id}
            entry={entry}
            onEntry={(id) => lookAt(id)}
            onClose={() => setLooked(undefined)}
          />
        )}
      </section>
    </div>
  );
}

const none: readonly ToldFinding[] = [];

/** Where the lanes stand below the findings, and not beside them. */
const narrow = '(max-width: 800px)';

/** The legend of the signs in the lanes, as far as they occur. */
function Legend({
  finding,
  isAtFault,
}: {
  readonly finding: ToldFinding | undefined;
  readonly isAtFault: boolean;
}) {
  return (
    <span className="legend faint">
      <Meaning of="" says="returned at once" />
      <Meaning of="open" says="under way" />
      {isAtFault && <Meaning of="fault" says="at fault" />}
      {finding?.order !== undefined && <span>→ came before what it had to wait for</span>}
      {finding?.stretch !== undefined && <Meaning of="stretch" says="where it was judged" />}
    </span>
  );
}

/** A sign of the lanes and its meaning, on one line. */
function Meaning({ of, says }: { readonly of: string; readonly says: string }) {
  return (
    <span className="meaning">
      <span className={`key ${of}`} /> {says}
    </span>
  );
}

/** The event that a finding leads to: the first at fault, at the end that is spoken of; else where its cause is. */
function momentOf({ findings, causes }: ToldVerdict, at: number): Looked | undefined {
  const { culprits = [], notes = [] } = findings[at] ?? {};
  const [first] = culprits;
  const noted = notes.find(({ entry }) => first === undefined || entry === first);
  if (noted !== undefined) return { entry: noted.entry, end: noted.end };
  const cause = causes.find(({ explains }) => explains.includes(at));
  const entry = first ?? cause?.culprits[0] ?? cause?.between?.[0] ?? cause?.between?.[1];
  return entry === undefined || entry === null ? undefined : { entry, end: false };
}
