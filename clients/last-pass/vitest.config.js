import { playwright } from '@vitest/browser-playwright';
import { defineConfig } from 'vitest/config';
import { browserPath } from '../../scripts/browser.mjs';

export default defineConfig({
  root: import.meta.dirname,
  test: {
    include: ['night.case.js'],
    browser: {
      enabled: true,
      headless: true,
      screenshotFailures: false,
      instances: [{ browser: 'chromium' }],
      provider: playwright({
        launchOptions: { executablePath: browserPath, args: ['--no-sandbox', '--disable-gpu'] },
      }),
    },
  },
});
