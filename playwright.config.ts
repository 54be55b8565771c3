import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './tests/chromium';

const PORT = 4311;

/** Tests that ./script/long-test runs, for the time that they take. */
export const SLOW = /@slow/;

export default defineConfig({
  testDir: 'tests/browser',
  grepInvert: SLOW,
  outputDir: 'test-results',
  workers: 2,
  // Generous: a machine that is shared may be three times slower for a while.
  timeout: 240_000,
  expect: { timeout: 40_000 },
  reporter: [['list'], ['./tests/browser/count-reporter.ts']],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // Each test would fetch all of the application again; tests/browser/offline.spec.ts lets them in.
    serviceWorkers: 'block',
    launchOptions: CHROMIUM,
  },
  webServer: {
    command: `PORT=${PORT} npx --no-install tsx server/main.ts`,
    url: `http://localhost:${PORT}/`,
    reuseExistingServer: false,
  },
});
