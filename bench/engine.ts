import { existsSync } from 'node:fs';
import { chromium, type Browser } from '@playwright/test';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { secretsOf } from '../apps/server/src/secrets';
import { startEngine, type Engine } from '../apps/server/src/start';

export const ROOT = process.cwd();

/** A Gemmel on a new data folder, for one benchmark; `end` puts everything away. */
export async function benchEngine(port = 0): Promise<Engine & { data: string; end: () => Promise<void> }> {
  const data = await mkdtemp(path.join(tmpdir(), 'gemmel-bench-'));
  const config = {
    data,
    port,
    host: '127.0.0.1',
    roots: [],
    watched: [],
    reserve: 0,
    threads: 2,
    web: path.join(ROOT, 'apps/web/dist'),
    models: path.join(ROOT, 'apps/server/models'),
    demo: null,
    names: [],
    proxies: [],
    tls: null,
    mail: null,
    standInMail: null,
    shop: null,
    setUpCode: null,
    secrets: secretsOf(data),
  };
  const engine = await startEngine(config, path.join(ROOT, 'apps/server/dist/worker.js'));
  return {
    ...engine,
    data,
    end: async () => {
      await engine.stop();
      await rm(data, { recursive: true, force: true });
    },
  };
}

/** The value below which a share of all lies. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}

export const line = (text: string, figure: string): void => console.log(`${text.padEnd(62, ' .')} ${figure}`);

/** Chromium for benchmarks; `drawing` lets it draw maps without a graphics card. */
export const benchBrowser = (drawing = false): Promise<Browser> =>
  chromium.launch({
    executablePath: ['/usr/bin/chromium', '/usr/bin/chromium-headless-shell'].find((one) => existsSync(one))!,
    args: [
      '--no-sandbox',
      ...(drawing ? [] : ['--disable-gpu']),
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });

/** The two sizes screens are measured at. */
export const SIZES = [
  ['phone', { width: 390, height: 844 }],
  ['wide', { width: 1280, height: 800 }],
] as const;
