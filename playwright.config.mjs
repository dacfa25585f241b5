import { defineConfig } from '@playwright/test';
import { existsSync } from 'node:fs';

// The tests of the interface run against a demo that is up already, and write into it; bin/test starts one of its own. Without
// being told which, they would take the installation at the usual port.
if (!process.env.YPOMNA_BASE || !process.env.YPOMNA_DATA) {
  throw new Error(
    'Say which demo the tests may write into: YPOMNA_BASE=http://localhost:PORT and YPOMNA_DATA=FOLDER. bin/test browser starts one' +
      ' of its own.',
  );
}
// The engine alone, where it is installed: it starts in a third of the time.
const engine = '/usr/bin/chromium-headless-shell';
const browser = existsSync(engine) ? engine : '/usr/bin/chromium';

export default defineConfig({
  testDir: 'tests/Browser',
  testIgnore: process.env.YPOMNA_WITHOUT ? new RegExp(`(?:${process.env.YPOMNA_WITHOUT})\\.spec`) : [],
  outputDir: 'test-results',
  reporter: [['list']],
  workers: 1,
  timeout: 90_000,
  expect: { timeout: 10_000 },
  use: {
    baseURL: process.env.YPOMNA_BASE,
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Athens',
    locale: 'en-GB',
    launchOptions: { executablePath: browser, args: ['--no-sandbox'] },
    screenshot: 'only-on-failure',
  },
});
