import { defineConfig } from '@playwright/test';
import { sites } from './sites.js';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results',
  // A newsroom serves all specs of a worker; each works on posts of its own, but not at the same time.
  workers: sites.length,
  fullyParallel: false,
  // What only passes at its second try is listed as flaky at the end, and is a fault to fix.
  retries: 1,
  // Generous on purpose: on a busy machine a page can take many seconds, and no test is about how long.
  timeout: 240_000,
  expect: { timeout: 40_000 },
  reporter: [['list'], ['json']],
  use: {
    // What a test stands in for must reach the page; the phone's spec lets the worker in.
    serviceWorkers: 'block',
    // A thing that is not there is said after seconds, not when the whole test has run out.
    actionTimeout: 60_000,
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
});
