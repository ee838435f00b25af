import { mkdir, rename, writeFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import type { SMTPServer } from 'smtp-server';

/** How large a letter the stand-in takes, in bytes. */
const MOST = 30_000_000;
/**
 * A mailbox that stands in for the outside world: an SMTP server on this machine alone, which takes every letter, sends none on, and keeps
 * them as files.
 */
export class StandInMailbox {
  private constructor(
    private readonly server: SMTPServer,
    private readonly folder: string,
    readonly smtp: string,
  ) {}

  static async open(folder: string): Promise<StandInMailbox> {
    await mkdir(folder, { recursive: true });
    let n = 0;
    const { SMTPServer: Server } = await import('smtp-server');
    const server = new Server({
      authOptional: true,
      disabledCommands: ['STARTTLS'],
      size: MOST,
      logger: false,
      onData: (stream, _, done) => {
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => {
          const file = path.join(folder, `${Date.now()}-${String(n++).padStart(4, '0')}.eml`);
          writeFile(`${file}.part`, Buffer.concat(parts))
            .then(() => rename(`${file}.part`, file))
            .then(
              () => done(),
              (error: Error) => done(error),
            );
        });
      },
    });
    server.on('error', (error) => console.error('the stand-in mailbox:', error.message));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
    const { port } = server.server.address() as AddressInfo;
    return new StandInMailbox(server, folder, `smtp://127.0.0.1:${port}`);
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}
