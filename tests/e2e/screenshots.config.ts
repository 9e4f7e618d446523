import { defineConfig } from '@playwright/test';
import { browser } from './browser.ts';

export default defineConfig({
  testDir: './screenshots',
  outputDir: './results/files',
  workers: 1,
  timeout: 300_000,
  reporter: 'line',
  globalSetup: './globalSetup.ts',
  use: browser,
});
