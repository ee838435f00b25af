import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  timeout: 150_000,
  expect: { timeout: 12_000 },
  // Walks wait for the server and for each other half of the time: two cores have time for three.
  workers: Number(process.env['E2E_WORKERS'] ?? 3),
  retries: process.env['CI'] ? 1 : 0,
  reporter: 'list',
  outputDir: './out/results',
  globalSetup: './household.setup.ts',
  use: {
    locale: 'en-GB',
    // What cannot be touched by then will not be: a walk that goes wrong is over soon.
    actionTimeout: 30_000,
    screenshot: 'only-on-failure',
    // The worker that is there without a line has walks of its own; in all others requests can be held and refused.
    serviceWorkers: 'block',
    contextOptions: { reducedMotion: 'reduce' },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: {
      // The same browser without its own windows and menus, which nobody would see.
      executablePath: process.env['E2E_BROWSER'] ?? '/usr/bin/chromium-headless-shell',
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
  // The phone walks through everything, the wide screen through what is laid out or done in another way there; both with --long, and what is marked @long only then.
  projects: [
    {
      name: 'phone',
      grepInvert: process.env['E2E_LONG'] ? /@wide/ : /@wide|@long/,
      use: { viewport: { width: 390, height: 844 }, hasTouch: true },
    },
    {
      name: 'wide',
      ...(process.env['E2E_LONG'] ? {} : { grep: /@wide|@both/, grepInvert: /@long/ }),
      use: { viewport: { width: 1280, height: 800 } },
    },
  ],
});
