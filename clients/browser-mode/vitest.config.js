import { playwright } from '@vitest/browser-playwright';
import { seams } from 'ekkon/vite';
import { defineConfig } from 'vitest/config';
import { browserPath } from '../../scripts/browser.mjs';

/** Where the tests run, a browser unless said otherwise; and which of them. */
const { PLACE: place = 'browser', CASES: cases = '*' } = process.env;

export default defineConfig({
  root: import.meta.dirname,
  plugins: [seams()],
  test: {
    include: [`${cases}.case.{js,ts}`],
    environment: place === 'browser' ? 'node' : place,
    browser: {
      enabled: place === 'browser',
      headless: true,
      screenshotFailures: false,
      instances: [{ browser: 'chromium' }],
      provider: playwright({
        launchOptions: { executablePath: browserPath, args: ['--no-sandbox', '--disable-gpu'] },
      }),
    },
  },
});
