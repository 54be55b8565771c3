import { defineConfig } from '@playwright/test';
import base from './playwright.config';

/** What takes long or needs a disk of its own: ./script/long-test. */
export default defineConfig(base, { testDir: 'tests/long', timeout: 900_000 });
