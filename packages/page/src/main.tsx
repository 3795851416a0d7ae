import { createRoot } from 'react-dom/client';
import type { PageData } from '#core/report/page-data.ts';
import { ReportPage } from './report-page.tsx';

const place = document.getElementById('page');
const held = document.getElementById('records');
if (place === null || held === null) throw new Error('the page has no place to be drawn in');
const text = held.textContent ?? 'null';
const json = held.dataset['packed'] === 'gzip' ? await unpacked(text) : text;
const data = JSON.parse(json) as PageData | null;
createRoot(place).render(<ReportPage records={data?.records ?? []} />);

/** A text that gzip has compressed, given in base64. */
async function unpacked(base64: string): Promise<string> {
  const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream('gzip'));
  return await new Response(stream).text();
}
