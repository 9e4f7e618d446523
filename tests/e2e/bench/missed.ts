import type { Reporter, TestCase, TestResult } from '@playwright/test/reporter';

/** A benchmark that breaks or finds no end says so in the place of its figures. */
export default class Missed implements Reporter {
  onTestEnd(test: TestCase, result: TestResult) {
    if (result.status === 'passed') return;
    const why = result.status === 'timedOut' ? `no end within ${test.timeout / 1000} s` : (result.error?.message?.split('\n')[0] ?? result.status);
    console.log(`${test.title.padEnd(62)} ${why}   MISSED`);
  }
}
