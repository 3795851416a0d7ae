import { playwright } from '@vitest/browser-playwright';
import { seams } from 'ekkon/vite';
import { defineConfig } from 'vitest/config';
import { browserPath } from '../../scripts/browser.mjs';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [seams()],
  test: {
    include: ['*.case.{js,ts}'],
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
