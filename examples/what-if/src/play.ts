import { type Claim, ClaimError, type Ledger, openLedger } from 'ekkon';
import {
  faults,
  nightWith,
  rainFaults,
  stageNight,
  stageRain,
  targets,
  watchRain,
} from 'observatory';
import { shortValue } from '#core/notation/value.ts';
import { toLines } from '#core/record/lines.ts';
import { tied } from '#core/record/tie.ts';
import type { PageRecord } from '#core/report/page-data.ts';
import { writeLastPass } from '#core/since/last-pass.ts';

/** A night that can be played, with the mistakes that can be switched on in it. */
export interface Night {
  readonly name: string;
  readonly mistakes: readonly { readonly name: string; readonly mistake: string }[];
  /** Plays it with the mistakes of these names; returns its claims. */
  readonly play: (ledger: Ledger, names: ReadonlySet<string>) => Promise<readonly Claim[]>;
}

export const nights: readonly [Night, ...Night[]] = [
  {
    name: 'a dry night',
    mistakes: faults,
    async play(ledger, names) {
      const { devices, claims } = stageNight(ledger);
      const chosen = faults.filter(({ name }) => names.has(name));
      await nightWith(chosen, devices).run(targets);
      return claims();
    },
  },
  {
    name: 'a rainy night',
    mistakes: rainFaults,
    async play(ledger, names) {
      const chosen = rainFaults.find(({ name }) => names.has(name));
      return (await stageRain(ledger, chosen?.watch ?? watchRain))();
    },
  },
];

/** Once bundled, a call site would name a line of the bundle, which tells nobody anything. */
const callSites = import.meta.env.DEV ? 256 : 0;

/**
 * Plays a night against stand-ins that record every call.
 *
 * @param names the mistakes that are switched on in the code under test
 * @returns its record for the page, with the claims of a night on which nothing is wrong
 */
export async function playNight(night: Night, names: ReadonlySet<string>): Promise<PageRecord> {
  const sound = await played(night, new Set());
  const { lines } = names.size === 0 ? sound : await played(night, names);
  const about = { test: night.name, passedAt: Date.now(), checks: [] };
  const passed = names.size === 0 ? undefined : writeLastPass(sound.journal, about, undefined);
  return {
    ...(passed === undefined ? {} : { passed }),
    file: names.size === 0 ? 'no fault' : [...names].join(', '),
    text: lines.join('\n'),
    claims: sound.claims.map(({ notation }) => `${notation}\n`).join(''),
    rules: 'usual',
  };
}

async function played({ name, play }: Night, names: ReadonlySet<string>) {
  const ledger = openLedger({ name, callSites });
  let claims: readonly Claim[] = [];
  try {
    claims = await play(ledger, names);
  } catch (error) {
    // The night waited for an event that did not come; its record shows the rest.
    if (!(error instanceof ClaimError)) throw error;
  }
  const held = tied(ledger);
  if (held?.is !== 'ledger') throw new TypeError('this is not a ledger');
  const { journal } = held;
  return { claims, journal, lines: toLines(journal, { show: shortValue }) };
}
