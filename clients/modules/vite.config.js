import { defineConfig } from 'vite';
import { withSeams } from './seams.js';

// Served and built as a page: in mode `test`, or for production, where a framework has its module.
export default defineConfig(({ mode }) => ({
  root: import.meta.dirname,
  logLevel: 'error',
  build: { target: 'es2022', minify: false },
  plugins: [withSeams()],
  resolve:
    mode === 'production'
      ? { alias: { '#night': new URL('night.js', import.meta.url).pathname } }
      : {},
}));
