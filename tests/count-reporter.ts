import { appendFileSync, mkdirSync } from 'node:fs';

export const COUNT_FILE = '.cache/test-counts';

/** Adds a run's counts to the file from which script/test makes its closing line. */
export function addCounts(passed: number, failed: number): void {
  mkdirSync('.cache', { recursive: true });
  appendFileSync(COUNT_FILE, `${passed} ${failed}\n`);
}

interface Counted {
  children: { allTests(): Iterable<{ result(): { state: string } }> };
}

/** Vitest reporter. */
export default class CountReporter {
  onTestRunEnd(modules: readonly Counted[], errors: readonly unknown[]): void {
    let passed = 0;
    let failed = errors.length;
    for (const module of modules) {
      for (const test of module.children.allTests()) {
        const { state } = test.result();
        if (state === 'passed') passed++;
        else if (state === 'failed') failed++;
      }
    }
    addCounts(passed, failed);
  }
}
