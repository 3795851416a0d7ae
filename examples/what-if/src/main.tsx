import { createRoot } from 'react-dom/client';
import { WhatIf } from './what-if.tsx';

const place = document.getElementById('page');
if (place === null) throw new Error('the page has no place to be drawn in');
createRoot(place).render(<WhatIf />);
