import { fileFrom, type Site } from '../record/call-site.ts';

/** A call site as a report shows it: seen from the folder the process runs in. */
export function printSite(site: Site | undefined): string {
  return site === undefined ? '' : `${fileFrom(workingFolder(), site.file)}:${site.line}`;
}

/** The folder the process runs in, or the origin of a browser's page. */
function workingFolder(): string | undefined {
  const { process, location } = globalThis as {
    readonly process?: { cwd?(): string };
    readonly location?: { readonly origin?: string };
  };
  try {
    return process?.cwd?.() ?? location?.origin;
  } catch {
    // The folder has been removed meanwhile.
    return undefined;
  }
}
