import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import path from 'node:path';

const xml = (body: string) => `<?xml version="1.0" encoding="UTF-8"?>${body}`;
const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');

/**
 * A made-up bucket: as much of S3 as a backup asks for (put, get with ranges, head, delete, list), in a folder. Whoever asks is believed.
 * What a client sends in signed chunks (aws-chunked) is put together again.
 */
export class Bucket {
  private constructor(
    private readonly server: Server,
    private readonly folder: string,
  ) {}

  static async open(folder: string): Promise<Bucket> {
    await mkdir(folder, { recursive: true });
    const server = createServer((ask, answer) => {
      bucket.serve(ask, answer).catch((error: unknown) => {
        answer.statusCode = 500;
        answer.end(String(error));
      });
    });
    const bucket = new Bucket(server, folder);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return bucket;
  }

  get address(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async close(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise<void>((resolve) => this.server.close(() => resolve()));
  }

  private async bodyOf(ask: IncomingMessage): Promise<Buffer> {
    const parts: Buffer[] = [];
    for await (const part of ask) parts.push(part as Buffer);
    const all = Buffer.concat(parts);
    if (!String(ask.headers['x-amz-content-sha256'] ?? '').startsWith('STREAMING')) return all;
    const out: Buffer[] = [];
    for (let at = 0; ;) {
      const end = all.indexOf('\r\n', at);
      const length = parseInt(all.subarray(at, end).toString().split(';')[0]!, 16);
      if (!length) return Buffer.concat(out);
      out.push(all.subarray(end + 2, end + 2 + length));
      at = end + 2 + length + 2;
    }
  }

  private async list(url: URL, answer: ServerResponse): Promise<void> {
    const prefix = url.searchParams.get('prefix') ?? '';
    const names = (await readdir(this.folder, { recursive: true, withFileTypes: true }))
      .filter((one) => one.isFile())
      .map((one) => path.relative(this.folder, path.join(one.parentPath, one.name)))
      .map((name) => name.slice(name.indexOf('/') + 1))
      .filter((name) => name.startsWith(prefix))
      .sort();
    const [bucket] = url.pathname.split('/').filter(Boolean);
    const rows = await Promise.all(
      names.map(async (name) => {
        const { size, mtime } = await stat(path.join(this.folder, bucket!, name));
        return `<Contents><Key>${escaped(name)}</Key><LastModified>${mtime.toISOString()}</LastModified><ETag>"x"</ETag><Size>${size}</Size><StorageClass>STANDARD</StorageClass></Contents>`;
      }),
    );
    answer.setHeader('content-type', 'application/xml');
    answer.end(
      xml(
        `<ListBucketResult xmlns="http://s3.amazonaws.com/doc/2006-03-01/"><Name>${bucket}</Name><Prefix>${escaped(prefix)}</Prefix><KeyCount>${rows.length}</KeyCount><MaxKeys>100000</MaxKeys><IsTruncated>false</IsTruncated>${rows.join('')}</ListBucketResult>`,
      ),
    );
  }

  private async serve(ask: IncomingMessage, answer: ServerResponse): Promise<void> {
    const url = new URL(ask.url!, this.address);
    const file = path.join(this.folder, decodeURIComponent(url.pathname));
    const [, , ...key] = url.pathname.split('/');
    const wanted = key.filter(Boolean).length > 0;
    if (!wanted && url.searchParams.has('location')) {
      answer.end(
        xml('<LocationConstraint xmlns="http://s3.amazonaws.com/doc/2006-03-01/">us-east-1</LocationConstraint>'),
      );
      return;
    }
    if (!wanted && ask.method === 'GET') return this.list(url, answer);
    if (!wanted) {
      if (ask.method === 'PUT') await mkdir(file, { recursive: true });
      answer.end();
      return;
    }
    if (ask.method === 'PUT') {
      await mkdir(path.dirname(file), { recursive: true });
      await writeFile(`${file}.part`, await this.bodyOf(ask));
      await rename(`${file}.part`, file);
      answer.setHeader('etag', '"x"');
      answer.end();
      return;
    }
    if (ask.method === 'DELETE') {
      await rm(file, { force: true });
      answer.statusCode = 204;
      answer.end();
      return;
    }
    const info = await stat(file).catch(() => null);
    if (!info?.isFile()) {
      answer.statusCode = 404;
      answer.setHeader('content-type', 'application/xml');
      answer.end(
        ask.method === 'HEAD'
          ? undefined
          : xml('<Error><Code>NoSuchKey</Code><Message>The key does not exist.</Message></Error>'),
      );
      return;
    }
    answer.setHeader('etag', '"x"');
    answer.setHeader('last-modified', info.mtime.toUTCString());
    answer.setHeader('content-type', 'application/octet-stream');
    const [, from, to] = /^bytes=(\d+)-(\d*)$/.exec(ask.headers.range ?? '') ?? [];
    const all = ask.method === 'HEAD' ? null : await readFile(file);
    const part = all && from !== undefined ? all.subarray(Number(from), to ? Number(to) + 1 : undefined) : all;
    if (all && part && from !== undefined) {
      answer.statusCode = 206;
      answer.setHeader('content-range', `bytes ${from}-${Number(from) + part.length - 1}/${all.length}`);
    }
    answer.setHeader('content-length', part ? part.length : info.size);
    answer.end(part ?? undefined);
  }
}
