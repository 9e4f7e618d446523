import { defineConfig } from '@playwright/test';
import { browser } from './browser.ts';

export default defineConfig({
  testDir: './specs',
  outputDir: './results/files',
  workers: 1,
  retries: 0,
  timeout: 900_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: 'results/results.json' }]],
  globalSetup: './globalSetup.ts',
  use: { ...browser, actionTimeout: 30_000 },
});
