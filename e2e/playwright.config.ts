import { defineConfig } from '@playwright/test';
import path from 'node:path';

const root = path.resolve(import.meta.dirname, '..');
const port = Number(process.env['E2E_PORT'] ?? 4877);

const server = (command: string, at: number, env: Record<string, string> & { GEMMEL_DATA: string }) => ({
  command,
  cwd: root,
  // Only what a test puts in counts as a card, whatever this machine has mounted.
  env: { GEMMEL_ROOT: root, GEMMEL_PORT: String(at), GEMMEL_ROOTS: path.join(env.GEMMEL_DATA, 'inbox'), ...env },
  url: `http://127.0.0.1:${at}/api/me`,
  reuseExistingServer: false,
  timeout: 150_000,
  gracefulShutdown: { signal: 'SIGTERM' as const, timeout: 15_000 },
});

export default defineConfig({
  testDir: '.',
  timeout: 150_000,
  expect: { timeout: 12_000 },
  workers: 1,
  retries: process.env['CI'] ? 1 : 0,
  reporter: 'list',
  outputDir: './out/results',
  globalSetup: './household.setup.ts',
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    screenshot: 'only-on-failure',
    permissions: ['clipboard-read', 'clipboard-write'],
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
  },
  projects: [
    { name: 'phone', use: { viewport: { width: 390, height: 844 }, hasTouch: true } },
    { name: 'wide', use: { viewport: { width: 1280, height: 800 } } },
  ],
  webServer: [
    server('node e2e/subset.mjs && node apps/server/dist/main.js', port, {
      GEMMEL_DATA: path.join(root, 'e2e/out/data'),
      GEMMEL_DEMO: path.join(root, 'e2e/out/demo'),
    }),
    // A library that nobody has begun yet.
    server('rm -rf e2e/out/empty && node apps/server/dist/main.js', port + 1, {
      GEMMEL_DATA: path.join(root, 'e2e/out/empty'),
      GEMMEL_THREADS: '1',
    }),
  ],
});
