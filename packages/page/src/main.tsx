import { createRoot } from 'react-dom/client';
import type { PageData } from '#core/report/page-data.ts';
import { ReportPage } from './report-page.tsx';

const place = document.getElementById('page');
const held = document.getElementById('records');
if (place === null || held === null) throw new Error('the page has no place to be drawn in');
const data = JSON.parse(held.textContent ?? 'null') as PageData | null;
createRoot(place).render(<ReportPage records={data?.records ?? []} />);
