import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { aliases } from '../../packages/page/react-aliases.ts';

/** A night of the observatory in the browser, with faults to switch on and claims to change. */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  resolve: { alias: aliases },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 2_000,
    rolldownOptions: {
      // A component library says of its modules where they run; in a bundle that says nothing.
      onwarn: (warning, warn) => warning.code === 'MODULE_LEVEL_DIRECTIVE' || warn(warning),
    },
  },
});
