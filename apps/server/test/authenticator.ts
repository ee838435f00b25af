import { createHash, generateKeyPairSync, randomBytes, sign, type KeyObject } from 'node:crypto';

/** CBOR (RFC 8949), as much of it as a passkey is written in. */
function cbor(value: number | string | Buffer | Map<number | string, unknown>): Buffer {
  const head = (major: number, n: number): Buffer =>
    n < 24
      ? Buffer.from([(major << 5) | n])
      : n < 256
        ? Buffer.from([(major << 5) | 24, n])
        : Buffer.from([(major << 5) | 25, n >> 8, n & 255]);
  if (typeof value === 'number') return value < 0 ? head(1, -1 - value) : head(0, value);
  if (typeof value === 'string') return Buffer.concat([head(3, Buffer.byteLength(value)), Buffer.from(value)]);
  if (Buffer.isBuffer(value)) return Buffer.concat([head(2, value.length), value]);
  return Buffer.concat([
    head(5, value.size),
    ...[...value].flatMap(([key, one]) => [cbor(key), cbor(one as Parameters<typeof cbor>[0])]),
  ]);
}

const sha = (data: Buffer | string): Buffer => createHash('sha256').update(data).digest();
const text = (data: Buffer): string => data.toString('base64url');

/** A telephone that makes passkeys and answers with them, as WebAuthn level 3 says (sections 6.1, 6.5, 7). */
export class Authenticator {
  readonly id = randomBytes(32);
  private readonly key: KeyObject;
  private readonly point: { x: Buffer; y: Buffer };
  private counter = 0;

  constructor(readonly origin: string) {
    const { privateKey, publicKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
    const { x, y } = publicKey.export({ format: 'jwk' });
    this.key = privateKey;
    this.point = { x: Buffer.from(x!, 'base64url'), y: Buffer.from(y!, 'base64url') };
  }

  /** Flags: somebody is there (1), is the right one (4), and a key comes along (64). */
  private data(flags: number, more = Buffer.alloc(0)): Buffer {
    const count = Buffer.alloc(4);
    count.writeUInt32BE(++this.counter);
    return Buffer.concat([sha(new URL(this.origin).hostname), Buffer.from([flags]), count, more]);
  }

  private said(type: string, challenge: string): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin: this.origin, crossOrigin: false }));
  }

  private told(response: object): Record<string, unknown> {
    const id = text(this.id);
    return { id, rawId: id, type: 'public-key', clientExtensionResults: {}, response };
  }

  /** What a browser answers to creation options. */
  make({ challenge }: { challenge: string }): Record<string, unknown> {
    const cose = cbor(
      new Map<number, unknown>([
        [1, 2],
        [3, -7],
        [-1, 1],
        [-2, this.point.x],
        [-3, this.point.y],
      ]) as Map<number | string, unknown>,
    );
    const size = Buffer.alloc(2);
    size.writeUInt16BE(this.id.length);
    const authData = this.data(1 | 4 | 64, Buffer.concat([Buffer.alloc(16), size, this.id, cose]));
    const object = new Map<string, unknown>([
      ['fmt', 'none'],
      ['attStmt', new Map()],
      ['authData', authData],
    ]);
    return this.told({
      clientDataJSON: text(this.said('webauthn.create', challenge)),
      attestationObject: text(cbor(object as Map<number | string, unknown>)),
      transports: ['internal'],
    });
  }

  /** What a browser answers to request options; `verified` false when nobody has shown that they are the one. */
  answer({ challenge }: { challenge: string }, verified = true): Record<string, unknown> {
    const authData = this.data(verified ? 1 | 4 : 1);
    const said = this.said('webauthn.get', challenge);
    return this.told({
      clientDataJSON: text(said),
      authenticatorData: text(authData),
      signature: text(sign('sha256', Buffer.concat([authData, sha(said)]), this.key)),
    });
  }
}
