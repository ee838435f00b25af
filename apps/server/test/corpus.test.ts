import { REASONS, type Saying } from '@gemmel/contract';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { crc32, deflateRawSync, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { DEMO, openHouse, type House } from './house';
import { LONG, times } from './long';

/** Hostile files: all that are made by hand, and as many spoilt at random as make this number. */
const FILES = times(48, 500);

/** What spoils them. In the long form another every time; of a run that went wrong it can be given again. */
const SEED = LONG ? Number(process.env['GEMMEL_CORPUS'] ?? Date.now()) : 20261125;

/** Numbers that look random and are the same every time (Numerical Recipes' linear congruence). */
function dice(seed: number): (most: number) => number {
  let state = seed >>> 0;
  return (most) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * most);
  };
}

/** A ZIP written by hand, so that it can lie. */
function zip(entries: { name: string; data: Buffer; flags?: number; claims?: number }[]): Buffer {
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let at = 0;
  for (const { name, data, flags = 0x800, claims = data.length } of entries) {
    const packed = deflateRawSync(data);
    const label = Buffer.from(name);
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    local.writeUInt16LE(20, 4);
    local.writeUInt16LE(flags, 6);
    local.writeUInt16LE(8, 8);
    local.writeUInt32LE(crc32(data), 14);
    local.writeUInt32LE(packed.length, 18);
    local.writeUInt32LE(claims, 22);
    local.writeUInt16LE(label.length, 26);
    const head = Buffer.alloc(46);
    head.writeUInt32LE(0x02014b50, 0);
    head.writeUInt16LE(20, 4);
    head.writeUInt16LE(20, 6);
    head.writeUInt16LE(flags, 8);
    head.writeUInt16LE(8, 10);
    head.writeUInt32LE(crc32(data), 16);
    head.writeUInt32LE(packed.length, 20);
    head.writeUInt32LE(claims, 24);
    head.writeUInt16LE(label.length, 28);
    head.writeUInt32LE(at, 42);
    parts.push(local, label, packed);
    central.push(head, label);
    at += local.length + label.length + packed.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(at, 16);
  return Buffer.concat([...parts, directory, end]);
}

/** A chunk of a PNG. */
function chunk(type: string, data: Buffer): Buffer {
  const head = Buffer.alloc(4);
  head.writeUInt32BE(data.length);
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const sum = Buffer.alloc(4);
  sum.writeUInt32BE(crc32(body) >>> 0);
  return Buffer.concat([head, body, sum]);
}

function png(width: number, height: number, ...more: Buffer[]): Buffer {
  const size = Buffer.alloc(13);
  size.writeUInt32BE(width, 0);
  size.writeUInt32BE(height, 4);
  size.set([8, 2, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', size),
    ...more,
    chunk('IDAT', deflateSync(Buffer.alloc(5000))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** A JPEG with so much said before its picture that reading it all would never end. */
function talkative(jpeg: Buffer, segments: number, body: Buffer): Buffer {
  const marker = Buffer.from([0xff, 0xe1, 0, 0]);
  marker.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([
    jpeg.subarray(0, 2),
    ...Array.from({ length: segments }, () => Buffer.concat([marker, body])),
    jpeg.subarray(2),
  ]);
}

/** A JPEG that claims another size than it has. */
function claiming(jpeg: Buffer, size: number): Buffer {
  const copy = Buffer.from(jpeg);
  for (let i = 2; i < copy.length - 9;) {
    if (copy[i] !== 0xff) break;
    if ([0xc0, 0xc1, 0xc2].includes(copy[i + 1]!)) {
      copy.writeUInt16BE(size, i + 5);
      copy.writeUInt16BE(size, i + 7);
      break;
    }
    i += 2 + copy.readUInt16BE(i + 2);
  }
  return copy;
}

/** Every reason there is. */
const codes = Object.keys(REASONS);

describe('damaged and hostile files', () => {
  let house: House;
  let folder: string;

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-corpus-'));
    mkdirSync(path.join(folder, 'all'));
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  async function corpus(): Promise<number> {
    const roll = dice(SEED);
    let n = 0;
    const write = (name: string, data: Buffer) => {
      writeFileSync(path.join(folder, 'all', name), data);
      n++;
    };
    const pattern = sharp({ create: { width: 120, height: 80, channels: 3, background: '#a63' } }).composite([
      { input: Buffer.from('<svg width="120" height="80"><circle cx="60" cy="40" r="30" fill="#26c"/></svg>') },
    ]);
    const base: Record<string, Buffer> = {};
    for (const format of ['jpeg', 'png', 'webp', 'gif', 'tiff', 'avif'] as const)
      base[format] = await pattern.clone().toFormat(format).toBuffer();
    base['heic'] = readFileSync(path.join(__dirname, 'fixtures/turned.heic'));
    for (const [name, args] of [
      ['mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p']],
      ['webm', ['-c:v', 'libvpx']],
      ['avi', ['-c:v', 'mjpeg']],
      ['mts', ['-c:v', 'mpeg2video', '-f', 'mpegts']],
    ] as const) {
      const file = path.join(folder, `base.${name}`);
      execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        'testsrc=size=96x64:rate=12:duration=1',
        ...args,
        file,
      ]);
      base[name] = readFileSync(file);
    }
    const photo = readFileSync(path.join(DEMO, 'grans-tablet/photo_2026-05-16_13-02-39.jpg'));
    base['photo'] = photo;

    // Things that lie about their size, or talk without end.
    const jpeg = base['jpeg']!;
    for (const size of [30_000, 50_000, 65_500]) write(`claims-${size}.jpg`, claiming(jpeg, size));
    for (const size of [20_000, 60_000, 2 ** 31 - 1]) write(`claims-${size}.png`, png(size, size));
    // What takes long to read has its turn in the long form.
    if (LONG)
      write(
        'text-bomb.png',
        png(8, 8, chunk('zTXt', Buffer.concat([Buffer.from('Comment\0\0'), deflateSync(Buffer.alloc(200_000_000))]))),
      );
    if (LONG)
      write(
        'endless-1.jpg',
        talkative(jpeg, 400, Buffer.concat([Buffer.from('Exif\0\0'), Buffer.alloc(65_000, 'MM\0*')])),
      );
    write(
      'endless-2.jpg',
      talkative(jpeg, LONG ? 300 : 60, Buffer.from(`http://ns.adobe.com/xap/1.0/\0${'<a>'.repeat(20_000)}`)),
    );
    write('words.jpg', jpeg);
    write(
      'words.xmp',
      Buffer.from(`<?xpacket begin="" id=""?><x:xmpmeta xmlns:x="adobe:ns:meta/">${'<rdf:li>'.repeat(200_000)}`),
    );
    write('entities.jpg', Buffer.concat([jpeg, Buffer.from('e')]));
    write(
      'entities.xmp',
      Buffer.from(
        `<!DOCTYPE a [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 30 }, (_, i) => `<!ENTITY a${i} "${`&a${i ? i - 1 : ''};`.repeat(10)}">`).join('')}]><x:xmpmeta xmlns:x="adobe:ns:meta/">&a29;</x:xmpmeta>`,
      ),
    );
    const deep = Array.from({ length: 3000 }, (_, i) => {
      const box = Buffer.alloc(8);
      box.writeUInt32BE((3000 - i) * 8 + 8);
      box.write('moov', 4);
      return box;
    });
    write('deep.mp4', Buffer.concat([base['mp4']!.subarray(0, 32), ...deep]));

    // Archives.
    const inner = zip([{ name: 'x.jpg', data: Buffer.concat([jpeg, Buffer.from('inner')]) }]);
    write(
      'nested.zip',
      zip([
        { name: 'inner.zip', data: zip([{ name: 'inner2.zip', data: inner }]) },
        { name: 'a/b.jpg', data: Buffer.concat([jpeg, Buffer.from('b')]) },
      ]),
    );
    write('bomb.zip', zip([{ name: 'bomb.jpg', data: Buffer.alloc(220_000_000) }]));
    write('liar.zip', zip([{ name: 'liar.jpg', data: Buffer.alloc(3_000_000, 'x'), claims: 900 }]));
    write('locked.zip', zip([{ name: 'locked.jpg', data: jpeg, flags: 1 }]));
    write(
      'names.zip',
      zip(
        ['../../up.jpg', '/etc/root.jpg', 'C:\\win.jpg', 'a\\..\\..\\b.jpg', '\u202egpj.jpg', '\u0007bell.jpg'].map(
          (name, i) => ({ name, data: Buffer.concat([jpeg, Buffer.from(`n${i}`)]) }),
        ),
      ),
    );
    write('cut.zip', inner.subarray(0, inner.length - 30));
    write('empty.zip', zip([]));
    write('not-a.zip', Buffer.from('PK\u0003\u0004 and then nothing of the kind'));

    // Names that mean something to somebody.
    for (const name of [
      '-rf.jpg',
      '$(touch pwned).jpg',
      '`touch pwned`.jpg',
      '; touch pwned;.jpg',
      '%s%n%x.jpg',
      'O\'Neil "x" & <b>.jpg',
      '=cmd|calc.jpg',
      'CON.jpg',
      'NUL',
      '...jpg',
      ' .jpg',
      'line\nbreak.jpg',
      'tab\t.jpg',
      'bidi\u202egpj.exe.jpg',
      '\u{1F3F4}\u{E0067}\u{E0062}.jpg',
      'é'.repeat(100) + '.jpg',
      'x'.repeat(240) + '.jpg',
      'null\\0.jpg',
      '~$x.jpg',
      '|pipe.jpg',
      '@file.jpg',
      '-o.mp4',
      'concat:a|b.mp4',
      'file:etc.mp4',
    ].filter((_, i) => LONG || i % 5 === 0))
      write(name, Buffer.concat([name.endsWith('.mp4') ? base['mp4']! : jpeg, Buffer.from(name)]));

    // Wrong names for right things, and right names for wrong things.
    const kinds = Object.keys(base);
    const NAMED: Record<string, string> = { jpeg: 'txt', png: 'mp4', mp4: 'heic' };
    const endings = ['txt', 'heic', 'mp4', 'dng'];
    for (const [i, kind] of kinds.entries())
      for (const wrong of LONG ? endings : [NAMED[kind] ?? endings[i % endings.length]!])
        write(`wrong-${kind}.${wrong}`, Buffer.concat([base[kind]!, Buffer.from(wrong)]));
    for (const ending of LONG
      ? ['jpg', 'png', 'heic', 'mp4', 'avi', 'dng', 'gif', 'zip', 'xmp', 'csv']
      : ['jpg', 'mp4', 'zip', 'xmp'])
      write(`text.${ending}`, Buffer.from(`I am no picture, whatever I am called: ${ending}`));
    for (const svg of [
      '<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/passwd"/></svg>',
      '<html><script>alert(1)</script></html>',
      '#EXTM3U\nfile:///etc/passwd',
      'ffconcat version 1.0\nfile /etc/passwd',
    ])
      write(`reads-${n}.mp4`, Buffer.from(svg));

    // The rest: cut, flipped, overwritten and swollen at random.
    while (n < FILES) {
      const kind = kinds[roll(kinds.length)]!;
      const data = Buffer.from(base[kind]!);
      const way = roll(4);
      if (way === 0) write(`cut-${n}.${kind}`, data.subarray(0, roll(data.length)));
      else if (way === 1) {
        for (let k = 0; k < 1 + roll(30); k++) data[roll(data.length)] = roll(256);
        write(`flipped-${n}.${kind}`, data);
      } else if (way === 2) {
        const from = roll(data.length);
        data.fill(roll(256), from, Math.min(data.length, from + 1 + roll(200)));
        write(`blotted-${n}.${kind}`, data);
      } else {
        const at = roll(data.length);
        const noise = Buffer.from(Array.from({ length: 1 + roll(3000) }, () => roll(256)));
        write(`swollen-${n}.${kind}`, Buffer.concat([data.subarray(0, at), noise, data.subarray(at)]));
      }
    }
    return n;
  }

  test(`${FILES} of them: none harms the process, every one has a fate and a reason in plain words`, async () => {
    const made = await corpus();
    expect(made).toBe(FILES);
    const before = process.memoryUsage().rss;
    const batch = await house.takeIn(path.join(folder, 'all'));
    const { counts, state } = await house.call('batch', { params: { id: batch } });
    expect(state).toBe('done');
    // Named with what went wrong, so that it can be looked at again.
    const given = await house.app.db('jobs').where('state', 'failed').select('kind', 'about', 'error');
    const stuck = await house.app
      .db('batch_items')
      .where({ batch_id: batch, state: 'failed' })
      .select('id', 'path', 'reason');
    expect({ given, stuck, seed: SEED }).toEqual({ given: [], stuck: [], seed: SEED });
    // Names inside archives add to them; what a walk may not read (names that begin with a dot) does not come.
    expect(counts.total).toBeGreaterThanOrEqual(FILES - 2);
    expect(counts).toMatchObject({ waiting: 0, received: 0, failed: 0 });
    const items = (await house.app.db('batch_items').where('batch_id', batch)) as {
      path: string;
      state: string;
      reason: string | null;
      bytes: number;
    }[];
    const codeOf = (item: { reason: string | null }) => (item.reason ? (JSON.parse(item.reason) as Saying).code : null);
    for (const item of items.filter((i) => i.state !== 'stored')) {
      const said = JSON.parse(item.reason!) as Saying;
      expect([item.path, said.code]).toEqual([item.path, expect.stringMatching(new RegExp(`^(${codes.join('|')})$`))]);
      expect(JSON.stringify(said.params)).not.toMatch(/Error|undefined|null|\bat \//);
    }
    const reason = (name: string) => codeOf(items.find((i) => i.path.endsWith(`/${name}`))!);
    expect(reason('bomb.zip')).toBe('archive-bomb');
    if (LONG) expect(reason('text-bomb.png')).toBe('text-bomb');
    expect(reason('liar.jpg')).toBe('archive-file-damaged');
    expect(reason('locked.jpg')).toBe('archive-locked');
    expect(reason('inner.zip')).toBe('archive-inside');
    expect(reason('claims-60000.png')).toMatch(/^too-(large|many-pixels)$/);
    expect(reason('text.jpg')).toBe('not-by-its-ending');
    expect(items.filter((i) => i.path.includes('up.jpg')).map(codeOf)).toEqual(['archive-leads-out']);
    // Whole files under wrong names are taken for what they are.
    for (const name of ['wrong-jpeg.txt', 'wrong-png.mp4', 'wrong-mp4.heic'])
      expect([name, items.find((i) => i.path.endsWith(name))!.state]).toEqual([name, 'stored']);
    expect(await house.app.db('jobs').where('state', 'failed').select('kind', 'error')).toEqual([]);
    for (const place of [process.cwd(), folder, house.app.paths.vault, house.app.config.data])
      expect(existsSync(path.join(place, 'pwned'))).toBe(false);
    const kept = (await house.app.db('pictures').select('vault_path')) as { vault_path: string }[];
    for (const { vault_path } of kept) {
      expect(vault_path).not.toMatch(/\p{Cc}|\.\.(\/|$)/u);
      expect(existsSync(path.join(house.app.paths.vault, 'home', vault_path))).toBe(true);
    }
    // The house still works.
    expect((await house.call('library', {})).pictures).toBe(kept.length);
    const sum = (states: string[]) => items.filter((i) => states.includes(i.state)).length;
    console.log(
      `${items.length} hostile files: ${sum(['stored'])} could be shown and were stored, ${sum(['known'])} were here already, ${sum(['opened'])} archives opened, ${sum(['skipped'])} left out, ${sum(['aside'])} set aside; memory grew by ${Math.max(0, Math.round((process.memoryUsage().rss - before) / 1e6))} MB`,
    );
  }, 400_000);
});
