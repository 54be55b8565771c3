import type { Reporter, TestCase, TestResult } from '@playwright/test/reporter';
import { addCounts } from '../count-reporter';

/** Playwright reporter that counts for the closing line of script/test. */
export default class BrowserCountReporter implements Reporter {
  private passed = 0;
  private failed = 0;

  onTestEnd(_test: TestCase, result: TestResult): void {
    if (result.status === 'passed') this.passed++;
    else if (result.status !== 'skipped') this.failed++;
  }

  onEnd(): void {
    addCounts(this.passed, this.failed);
  }
}
