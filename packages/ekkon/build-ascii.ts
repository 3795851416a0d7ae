import { decode, encode, type SourceMapLine } from '@jridgewell/sourcemap-codec';
import type { Plugin } from 'vite';

/** Characters beyond ASCII; in the built code they occur only in strings, templates and patterns. */
const beyondAscii = /[^\0-\x7f]/g;
/** How much longer `\u2026` is than the character. */
const growth = 5;

/**
 * Writes the built code in ASCII, with its source maps: an engine reads such code at one byte a letter,
 * which is a fifth faster.
 */
export function asciiOnly(): Plugin {
  return {
    name: 'ascii-only',
    enforce: 'post',
    generateBundle(_, bundle) {
      for (const chunk of Object.values(bundle)) {
        if (chunk.type !== 'chunk') continue;
        const map = bundle[`${chunk.fileName}.map`];
        if (map?.type === 'asset') map.source = moveMap(String(map.source), chunk.code);
        chunk.code = chunk.code.replace(beyondAscii, escaped);
      }
    },
  };
}

function escaped(letter: string): string {
  return `\\u${letter.charCodeAt(0).toString(16).padStart(4, '0')}`;
}

function moveMap(map: string, code: string): string {
  const { mappings, ...rest } = JSON.parse(map);
  const lines = code.split('\n');
  const moved = decode(mappings).map((line, at) => moveLine(line, lines[at] ?? ''));
  return JSON.stringify({ ...rest, mappings: encode(moved) });
}

/** The places of one line of built code, each moved by the escapes before it. */
function moveLine(line: SourceMapLine, text: string): SourceMapLine {
  const longer = Array.from(text.matchAll(beyondAscii), ({ index }) => index);
  let passed = 0;
  for (const segment of line) {
    while (passed < longer.length && (longer[passed] as number) < segment[0]) passed++;
    segment[0] += passed * growth;
  }
  return line;
}
