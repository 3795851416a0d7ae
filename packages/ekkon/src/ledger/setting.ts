type Settings = Readonly<Record<string, string | undefined>>;

let handedIn: () => Settings | undefined = () => undefined;

/** Sets where the settings of a run come from where there is no environment: in a page. */
export function handInSettings(read: () => Settings | undefined): void {
  handedIn = read;
}

/** The value of an environment variable, or of the same setting from the runner of a page; `undefined` if it is empty. */
export function setting(name: string): string | undefined {
  const { process } = globalThis as { readonly process?: NodeJS.Process };
  const value = process?.env?.[name] ?? handedIn()?.[name];
  return value === '' ? undefined : value;
}

/** The runner's command by which a test that runs in a page saves its ledger. */
export const saveCommand = 'ekkonSave';

/** The variables that a page can be handed. */
export const settings = ['EKKON_LAST_PASS', 'EKKON_RULES', 'EKKON_SAVE', 'EKKON_WEIGH'] as const;

/** The name under which a runner hands them in. */
export const settingsKey = 'ekkon settings';
