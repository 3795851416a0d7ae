import { registerIfPreloaded } from './register.ts';

export { importFresh } from './import-fresh.ts';
export type { SeamOptions } from './options.ts';
export { registerSeams } from './register.ts';

registerIfPreloaded();
