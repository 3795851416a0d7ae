import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import type { Site } from '../record/call-site.ts';
import { intrinsics } from '../value/intrinsics.ts';

/** The source maps of the modules that a page has loaded, by their addresses; `undefined` for one without a map. */
const maps = new Map<string, TraceMap | undefined>();

/**
 * The place in a source for a place in a page's code. The server of the page compiled it, and put its source map
 * behind it.
 *
 * @param site `file` is the address that the page has loaded
 * @returns `undefined` if the module has no map
 */
export function placeInSource({ file: url, line, column }: Site): Site | undefined {
  if (!maps.has(url)) maps.set(url, mapOf(url));
  const map = maps.get(url);
  if (map === undefined) return undefined;
  // Stacks count columns from 1, maps from 0.
  const found = originalPositionFor(map, { line, column: column - 1 });
  if (found.source === null) return undefined;
  return {
    file: new intrinsics.URL(found.source, url).href,
    line: found.line,
    column: found.column + 1,
  };
}

/** Reads a module again: it has been loaded, so its server, or the page's cache, has it at hand. */
function mapOf(url: string): TraceMap | undefined {
  try {
    const request = new XMLHttpRequest();
    // The caller prints a place, and cannot wait.
    request.open('GET', url, false);
    request.send();
    const begin = request.responseText.lastIndexOf(inlineMap);
    if (begin < 0) return undefined;
    const [encoded = ''] = request.responseText.slice(begin + inlineMap.length).split(/\s/, 1);
    return new TraceMap(textOf(encoded));
  } catch {
    return undefined;
  }
}

const inlineMap = '//# sourceMappingURL=data:application/json;base64,';

function textOf(encoded: string): string {
  const { atob } = intrinsics;
  const bytes = Uint8Array.from(atob(encoded), (sign) => sign.charCodeAt(0));
  return new TextDecoder().decode(bytes);
}
