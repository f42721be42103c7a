import { defineConfig } from '@playwright/test';

// The application is started by scripts/test.mjs, which gives its address.
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'var/test/playwright',
  timeout: 150_000,
  expect: { timeout: 30_000 },
  fullyParallel: false,
  workers: 1,
  reporter: [['list'], ['json']],
  use: {
    actionTimeout: 30_000,
    baseURL: process.env.JUNE_URL,
    viewport: { width: 1280, height: 800 },
    // Nothing slides: a click lands where it was aimed at, however busy the machine is.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
  },
});
