import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      '{core,workers,demo,app,server,cli}/**/*.test.ts',
      'tests/unit/**/*.test.ts',
      'app/**/*.test.tsx',
    ],
    testTimeout: 60_000,
    setupFiles: ['tests/setup.ts'],
    coverage: { include: ['core/**', 'workers/**', 'cli/**'], exclude: ['core/kernels/assembly/**'] },
    reporters: ['default', './tests/count-reporter.ts'],
  },
});
