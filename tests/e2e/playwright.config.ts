import { defineConfig } from '@playwright/test';
import { browser } from './browser.ts';

export default defineConfig({
  testDir: './specs',
  outputDir: './results/files',
  // Two at a time on the two cores there are; each spec makes jobs of its own.
  workers: 2,
  retries: 0,
  // Journeys whose parts other tests hold for each change: before a release.
  grepInvert: process.env.WISELOOM_DEEP === '1' ? [] : /@deep/,
  timeout: 900_000,
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: 'results/results.json' }]],
  globalSetup: './globalSetup.ts',
  use: { ...browser, actionTimeout: 30_000 },
});
