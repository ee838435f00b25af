import { serve, type ServerType } from '@hono/node-server';
import { Hono } from 'hono';
import type { AddressInfo } from 'node:net';
import { FrameFeed } from '@gemmel/contract';

/** A digital frame that stands in for one on a shelf: it asks its feed as those do, and shows what it is given on a page of its own. */
export class StandInFrame {
  private constructor(
    private readonly server: ServerType,
    readonly address: string,
  ) {}

  /** @param feed the address of the feed, as it is typed into a frame. */
  static async open(feed: string): Promise<StandInFrame> {
    const told = async () => FrameFeed.parse(await (await fetch(feed)).json());
    // An address that is none is told at once.
    await told();
    const http = new Hono();
    http.get('/', async (c) => {
      const { seconds, name } = await told();
      return c.html(
        `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="${Math.max(2, seconds)}"><title>${name.replace(/[<&]/g, '')}</title>` +
          `<style>body{margin:0;background:#000;display:flex;height:100vh;align-items:center;justify-content:center}img{max-width:100%;max-height:100vh;border:18px solid #4a3a28;box-sizing:border-box}</style><img alt="" src="/picture">`,
      );
    });
    http.get('/picture', async (c) => {
      const { next } = await told();
      const picture = await fetch(new URL(next, feed));
      return c.body(await picture.arrayBuffer(), 200, {
        'content-type': picture.headers.get('content-type') ?? 'image/jpeg',
      });
    });
    const server = await new Promise<ServerType>((resolve) => {
      const started = serve({ fetch: http.fetch, hostname: '127.0.0.1', port: 0 }, () => resolve(started));
    });
    return new StandInFrame(server, `http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}
