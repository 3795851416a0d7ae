import { playwright } from '@vitest/browser-playwright';
import { defineConfig } from 'vitest/config';
import { browserPath } from '../../scripts/browser.mjs';
import { withSeams } from './seams.js';

/** What a run of the suite is given: nothing, the plugin, the plugin with a module of the platform, a browser. */
const { MODULES_WITH: given = 'nothing' } = process.env;

const browser = {
  enabled: given === 'browser',
  headless: true,
  screenshotFailures: false,
  instances: [{ browser: 'chromium' }],
  provider: playwright({
    launchOptions: { executablePath: browserPath, args: ['--no-sandbox', '--disable-gpu'] },
  }),
};

export default defineConfig({
  root: import.meta.dirname,
  plugins: given === 'nothing' ? [] : [withSeams(...(given === 'platform' ? ['node:fs'] : []))],
  resolve:
    given === 'nothing'
      ? { alias: { '#night': new URL('night.js', import.meta.url).pathname } }
      : {},
  test: { include: ['suite.case.js'], ...(given === 'browser' ? { browser } : {}) },
});
