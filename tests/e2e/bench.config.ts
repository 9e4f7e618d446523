import { defineConfig } from '@playwright/test';
import { browser } from './browser.ts';

// Speed is measured here and printed beside the figure it must reach; it decides nothing.
export default defineConfig({
  testDir: './bench',
  outputDir: './results/files',
  workers: 1,
  timeout: 300_000,
  reporter: [['line'], ['./bench/missed.ts']],
  globalSetup: './globalSetup.ts',
  use: browser,
});
