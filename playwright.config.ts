import { defineConfig } from '@playwright/test';

const PORT = 4311;

export default defineConfig({
  testDir: 'tests/browser',
  outputDir: 'test-results',
  workers: 2,
  timeout: 120_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['./tests/browser/count-reporter.ts']],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
      ],
    },
  },
  webServer: {
    command: `PORT=${PORT} npx --no-install tsx server/main.ts`,
    url: `http://localhost:${PORT}/`,
    reuseExistingServer: false,
  },
});
