import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      '{core,storage,workers,demo,app,server,cli,jobs}/**/*.test.ts',
      'tests/unit/**/*.test.ts',
      'app/**/*.test.tsx',
    ],
    // These take long: ./script/long-test.
    exclude: ['**/*.long.test.ts', '**/node_modules/**'],
    testTimeout: 60_000,
    // Two at a time also on two cores; modules are read once for all files of a worker, which took longer than the tests.
    maxWorkers: 2,
    isolate: false,
    setupFiles: ['tests/setup.ts'],
    coverage: {
      include: ['core/**', 'storage/**', 'workers/**', 'cli/**', 'jobs/**'],
      exclude: ['core/kernels/assembly/**'],
    },
    reporters: ['default', './tests/count-reporter.ts'],
  },
});
