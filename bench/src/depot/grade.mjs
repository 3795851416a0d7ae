/*
 * Grades a report by the changes between a passing and a failing record: their calls are aligned, and the earliest
 * remaining change is the culprit.
 */

const keyOf = ({ label, args }) => `${label} ${print(args)}`;

export function print(value) {
  return JSON.stringify(value, (_, each) =>
    each instanceof Error
      ? { name: each.name, message: each.message }
      : each === undefined
        ? null
        : each,
  );
}

/** The pairs of equal calls, in order, of which there are the most (dynamic programming over both records). */
function align(passed, failed) {
  const [rows, columns] = [passed.map(keyOf), failed.map(keyOf)];
  const best = Array.from({ length: rows.length + 1 }, () => new Array(columns.length + 1).fill(0));
  for (let row = rows.length - 1; row >= 0; row--)
    for (let column = columns.length - 1; column >= 0; column--)
      best[row][column] =
        rows[row] === columns[column]
          ? best[row + 1][column + 1] + 1
          : Math.max(best[row + 1][column], best[row][column + 1]);
  const pairs = [];
  for (let [row, column] = [0, 0]; row < rows.length && column < columns.length; ) {
    if (rows[row] === columns[column]) pairs.push([passed[row++], failed[column++]]);
    else if (best[row + 1][column] >= best[row][column + 1]) row++;
    else column++;
  }
  return pairs;
}

/** The changes, the earliest first: calls that are gone, new, changed or moved, and ends that moved. */
export function changesBetween(passed, failed) {
  const pairs = align(passed, failed);
  const ends = [...pairs, [undefined, undefined]];
  const changes = [];
  let [row, column] = [0, 0];
  for (const [one, other] of ends) {
    const to = [
      one ? passed.indexOf(one) : passed.length,
      other ? failed.indexOf(other) : failed.length,
    ];
    changes.push(
      ...between(
        passed.slice(row, to[0]),
        failed.slice(column, to[1]),
        failed.slice(to[1]),
        column,
      ),
    );
    [row, column] = [to[0] + 1, to[1] + 1];
  }
  const moved = changes.map((change) => {
    if (change.is !== 'gone') return change;
    const twin = changes.find(
      (other) => other.is === 'new' && keyOf(other.now) === keyOf(change.was),
    );
    if (twin === undefined) return change;
    twin.is = 'moved';
    return { ...change, is: 'moved', now: twin.now };
  });
  // A call that is gone or new makes concurrent calls change places, too.
  const isMoved = ({ is }) => Number(is === 'moved');
  moved.sort((one, other) => isMoved(one) - isMoved(other) || one.at - other.at);
  const changed = changes.flatMap(({ is, was, now }) => (is === 'changed' ? [[was, now]] : []));
  const movedBeside = movedEnds([...pairs, ...changed]);
  // An end that moved before anything else changed is the first change.
  const endsBefore = movedBeside.filter(({ at }) => at <= (moved[0]?.at ?? 0));
  const early = [...endsBefore, ...(moved[0]?.before ?? [])];
  return { changes: moved.length > 0 ? moved : movedBeside, early, pairs, failed };
}

function between(gone, come, _, at) {
  const left = [...come];
  /** Changes in the same place before a call that is gone. */
  const before = [];
  const found = gone.map((was) => {
    const same = left.findIndex((now) => now.label === was.label);
    if (same < 0) return { is: 'gone', was, at, before: [...before] };
    const [now] = left.splice(same, 1);
    const change = { is: 'changed', was, now, at: now.id };
    before.push(change);
    return change;
  });
  return [...found, ...left.map((now) => ({ is: 'new', now, at: now.id }))].sort(
    (one, other) => one.at - other.at,
  );
}

/** Calls that began before others ended, though they began after that when the claims held. */
function movedEnds(pairs) {
  const found = [];
  for (const [was, now] of pairs)
    for (const [then, later] of pairs)
      if (was !== then && was.ended < then.began && (now.ended ?? Infinity) > later.began)
        found.push({ is: 'end', was, now, other: later, at: later.id });
  return found.sort((one, other) => one.at - other.at);
}

/**
 * How a first line tells of a change: it names the culprit with its difference, an effect of it, or a call that is as
 * it was.
 */
export function gradeOf(line, { changes, early, pairs, failed }) {
  if (changes.length === 0) return 'nothing changed';
  const [first] = changes;
  const isEarly = (change) =>
    (change.is !== 'end' || line.includes('ended')) && names(line, change);
  if (early.some(isEarly)) return 'named';
  const together = changes.filter((each) => isOneWith(each, first));
  if (together.flatMap((change) => twinsOf(change, failed)).some((change) => names(line, change)))
    return 'named';
  if (changes.some((change) => names(line, change))) return 'effect';
  const subject = /^#(\d+) /.exec(line);
  const unchanged = subject !== null && pairs.some(([, now]) => now.id === Number(subject[1]));
  return unchanged ? 'blamed' : 'unclear';
}

/** A new call, and the equal ones next to it among those of its member: nobody can tell which of them is new. */
function twinsOf(change, failed) {
  if (change.is !== 'new') return [change];
  const calls = failed.filter(({ label }) => label === change.now.label);
  const at = calls.indexOf(change.now);
  const isTwin = (each) => keyOf(each) === keyOf(change.now);
  const from = calls.findLastIndex((each, place) => place < at && !isTwin(each)) + 1;
  const to = calls.findIndex((each, place) => place > at && !isTwin(each));
  return calls.slice(from, to < 0 ? undefined : to).map((now) => ({ ...change, now }));
}

/** Changes that belong to the first: calls that are gone beside it, calls that changed places, ends of the same call. */
function isOneWith(change, first) {
  if (change === first) return true;
  if (first.is === 'end')
    return change.is === 'end' && (change.now === first.now || change.other === first.other);
  if (first.is === 'moved') return change.is === 'moved' && keyOf(change.now) === keyOf(first.now);
  if (first.is === 'gone') return change.is === 'gone' && change.at === first.at;
  return change.is === first.is && change.now.label === first.now.label;
}

/** Whether a line tells of a change. */
export function names(line, { is, was, now, other }) {
  const says = (entry) =>
    new RegExp(`#${entry.id}(?![0-9])`).test(line) && line.includes(entry.label);
  switch (is) {
    case 'gone':
      return (
        line.includes(was.label) &&
        /missing|never|expected|twice|once|times|last passed| was /.test(line)
      );
    case 'new':
      return says(now);
    case 'changed':
      return (
        (says(now) || line.includes(`${was.label}(`)) &&
        leavesIn(was.args, now.args).some((leaf) => line.includes(leaf))
      );
    case 'moved':
      return line.includes(now.label);
    case 'end':
      return says(now) || says(other);
  }
}

/** The texts that identify a difference: the received or the expected value at a place that differs. */
function leavesIn(expected, received) {
  if (isObject(expected) && isObject(received)) {
    const keys = [...new Set([...Object.keys(expected), ...Object.keys(received)])];
    return keys.flatMap((key) =>
      print(expected[key]) === print(received[key])
        ? []
        : [...leavesIn(expected[key], received[key]), key],
    );
  }
  return [expected, received].flatMap((value) =>
    isObject(value) ? Object.keys(value) : [String(value)],
  );
}

function isObject(value) {
  return typeof value === 'object' && value !== null;
}
