import { defineConfig } from '@playwright/test';
import { engine } from './tests/Browser/engine.mjs';
import { stateFile } from './tests/Browser/sign-in.mjs';

// The tests of the interface run against a demo that is up already, and write into it; bin/test starts one of its own. Without
// being told which, they would take the installation at the usual port.
if (!process.env.YPOMNA_BASE || !process.env.YPOMNA_DATA) {
  throw new Error(
    'Say which demo the tests may write into: YPOMNA_BASE=http://localhost:PORT and YPOMNA_DATA=FOLDER. bin/test browser starts one' +
      ' of its own.',
  );
}
export default defineConfig({
  testDir: 'tests/Browser',
  globalSetup: './tests/Browser/sign-in.mjs',
  testIgnore: process.env.YPOMNA_WITHOUT ? new RegExp(`(?:${process.env.YPOMNA_WITHOUT})\\.spec`) : [],
  outputDir: 'test-results',
  reporter: [['list']],
  workers: 1,
  timeout: 90_000,
  expect: { timeout: 10_000 },
  use: {
    baseURL: process.env.YPOMNA_BASE,
    storageState: process.env.YPOMNA_BASE === 'none' ? undefined : stateFile,
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Athens',
    locale: 'en-GB',
    // Whatever hangs says where.
    actionTimeout: 30_000,
    navigationTimeout: 60_000,
    launchOptions: {
      executablePath: engine,
      args: ['--no-sandbox', '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
    },
    screenshot: 'only-on-failure',
  },
});
