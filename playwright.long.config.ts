import { defineConfig } from '@playwright/test';
import base, { SLOW } from './playwright.config';

/** What takes long or needs a disk of its own: ./script/long-test. */
export default defineConfig({
  ...base,
  grepInvert: [],
  timeout: 900_000,
  projects: [
    { name: 'long', testDir: 'tests/long' },
    { name: 'slow', testDir: 'tests/browser', grep: SLOW },
  ],
});
