import type { Finding, Verdict } from '../explain/finding.ts';

/** Findings that are told as one: those of a cause, or one alone. */
export interface Group {
  /** The sentence that tells it. */
  readonly message: string;
  readonly findings: readonly Finding[];
}

/** The findings of a verdict in their order, those of one cause together. */
export function groupsOf({
  findings,
  causes,
}: Pick<Verdict, 'findings' | 'causes'>): readonly Group[] {
  const groups: Group[] = [];
  findings.forEach((finding, at) => {
    const cause = causes.find(({ explains }) => explains.includes(at));
    if (cause === undefined) groups.push({ message: finding.message, findings: [finding] });
    else if (cause.explains[0] === at)
      groups.push({
        message: cause.message,
        findings: cause.explains.flatMap((place) => findings[place] ?? []),
      });
  });
  return groups;
}
