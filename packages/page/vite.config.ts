import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { viteSingleFile } from 'vite-plugin-singlefile';
import { aliases } from './react-aliases.ts';

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The report page: one HTML file with everything in it, shipped inside the library. */
export default defineConfig({
  root: from('.'),
  plugins: [viteSingleFile()],
  resolve: { alias: aliases },
  build: {
    target: 'es2022',
    outDir: from('../ekkon/dist/page'),
    emptyOutDir: true,
    rolldownOptions: {
      // A component library says of its modules where they run; in a page that says nothing.
      onwarn: (warning, warn) => warning.code === 'MODULE_LEVEL_DIRECTIVE' || warn(warning),
    },
  },
});
