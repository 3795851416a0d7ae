import { fileFrom, type Site } from '../record/call-site.ts';
import { intrinsics } from '../value/intrinsics.ts';

/** A call site as a report shows it: seen from the folder the process runs in. */
export function printSite(site: Site | undefined): string {
  return site === undefined ? '' : `${fileFrom(workingFolder(), site.file)}:${site.line}`;
}

/** Narrower reports name files without their folders, and have narrow lanes. */
export const narrow = 100;

/** A call site beside a call: the file's name and the line, if there is no room for more. */
export function printSiteBeside(site: Site | undefined, width: number): string {
  const place = printSite(site);
  return width < narrow ? place.replace(/^.*[/\\]/, '') : place;
}

/** The folder the process runs in, or the origin of a browser's page. */
export function workingFolder(): string | undefined {
  const { location } = globalThis as { readonly location?: { readonly origin?: string } };
  try {
    return intrinsics.cwd?.() ?? location?.origin;
  } catch {
    // The folder has been removed meanwhile.
    return undefined;
  }
}
