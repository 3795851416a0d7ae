import { registerIfPreloaded } from './register.ts';

export { importAgain, importFresh } from './import-again.ts';
export type { SeamOptions } from './options.ts';
export { registerSeams } from './register.ts';

registerIfPreloaded();
