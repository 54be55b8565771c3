import { defineConfig, mergeConfig } from 'vitest/config';
import base from './vitest.config';

/** What takes long: many runs, and machines that are lost. ./script/long-test. */
export default mergeConfig(
  { ...base, test: { ...base.test, include: [], exclude: [] } },
  defineConfig({ test: { include: ['{core,server,jobs,cli,tests}/**/*.long.test.ts'] } }),
);
