import type { PlaywrightTestConfig } from '@playwright/test';

/** Debian's Chromium, kept from looking for anything outside this machine. */
export const browser: PlaywrightTestConfig['use'] = {
  viewport: { width: 1280, height: 800 },
  // What a worker answers is seen by no test that watches the line; the tests of a page without a server let it in.
  serviceWorkers: 'block',
  launchOptions: {
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  },
};
