import { serve, type ServerType } from '@hono/node-server';
import { Hono } from 'hono';
import { parse } from 'csv-parse/sync';
import { mkdir, writeFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { safeFileName } from '@gemmel/core';

/**
 * A print shop that stands in for the outside world: on this machine alone, it takes an order (a list, and what is to be printed), keeps both
 * as files, and answers with a receipt. It prints nothing.
 */
export class StandInShop {
  private constructor(
    private readonly server: ServerType,
    readonly address: string,
  ) {}

  static async open(folder: string): Promise<StandInShop> {
    await mkdir(folder, { recursive: true });
    const http = new Hono();
    let n = 0;
    http.post('/orders', async (c) => {
      const form = await c.req.formData().catch(() => null);
      const list = form?.get('list');
      const prints = form?.getAll('prints') ?? [];
      if (!form || !(list instanceof File) || prints.length === 0)
        return c.json({ title: 'An order is a list and files.' }, 400);
      const rows = parse(await list.text(), { columns: true }) as { copies?: string }[];
      const number = `S-${Date.now()}-${++n}`;
      const at = path.join(folder, number);
      await mkdir(at, { recursive: true });
      for (const file of [list, ...prints])
        if (file instanceof File)
          await writeFile(path.join(at, safeFileName(file.name)), Buffer.from(await file.arrayBuffer()));
      const all = rows.reduce((sum, { copies }) => sum + (Number(copies) || 0), 0);
      return c.json({ number, at: new Date().toISOString(), prints: all, shop: 'The made-up print shop' });
    });
    const server = await new Promise<ServerType>((resolve) => {
      const started = serve({ fetch: http.fetch, hostname: '127.0.0.1', port: 0 }, () => resolve(started));
    });
    const { port } = server.address() as AddressInfo;
    return new StandInShop(server, `http://127.0.0.1:${port}/orders`);
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}
