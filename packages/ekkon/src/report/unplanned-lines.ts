import type { UnplannedDiagnosis } from '../explain/finding.ts';
import { printDifference } from './difference-words.ts';

/** How many plans of a member are listed before the rest is counted. */
const plansListed = 8;

/** What there is in place of an answer: the member's plans and how the call differs from each, or its class's members. */
export function unplannedLines({
  code,
  plans,
  alike,
  signature,
  type,
}: UnplannedDiagnosis): readonly string[] {
  if (code === 'unknownMember') {
    const near = alike.length === 0 ? [] : [`${type ?? 'it'} has: ${alike.join(', ')}`];
    return [
      ...near,
      `to declare it: ${signature}`,
      'a field or an arrow member needs a plan before it is called',
    ];
  }
  if (plans.length === 0) return ['no plan was made for this member.'];
  const shown = plans.slice(0, plansListed).map(({ plan, differences }) => {
    const why = differences.slice(0, 2).map(printDifference).join('; ');
    return `${plan}${why === '' ? '' : `   ${why}`}`;
  });
  const rest = plans.length - shown.length;
  return [
    'the plans for it, and how the call differs:',
    ...shown.map((line) => `  ${line}`),
    ...(rest > 0 ? [`  … ${rest} more`] : []),
  ];
}
