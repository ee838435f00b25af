import { randomBytes } from 'node:crypto';
import { rgbaToThumbHash } from 'thumbhash';
import { keyOfNumber, searchable, wordsOf } from '../packages/core/src';
import type { App } from '../apps/server/src/context';
import { LOOKED } from '../apps/server/src/observe/kinds';

/** A generator of numbers from 0 up to 1 that always begins the same (mulberry32). */
export function steady(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A thumbhash of one soft colour. */
const thumbOf = (random: () => number) => {
  const rgba = new Uint8Array(8 * 6 * 4);
  const base = [random() * 255, random() * 255, random() * 255];
  for (let i = 0; i < 48; i++)
    for (let c = 0; c < 4; c++) rgba[i * 4 + c] = c === 3 ? 255 : Math.min(255, base[c]! + i);
  return Buffer.from(rgbaToThumbHash(8, 6, rgba));
};

/** Made-up words of two to four syllables, the first ones said far more often than the last. */
function speech(random: () => number): () => string {
  const syllables = [
    'ka',
    'lo',
    'mi',
    'ter',
    'sun',
    'ra',
    'ven',
    'do',
    'pel',
    'bri',
    'na',
    'gol',
    'ste',
    'fu',
    'hal',
    'wi',
  ];
  const words = Array.from({ length: 4000 }, () =>
    Array.from(
      { length: 2 + Math.floor(random() * 3) },
      () => syllables[Math.floor(random() * syllables.length)]!,
    ).join(''),
  );
  return () => words[Math.floor(words.length * random() ** 3)]!;
}

/** How many people have names, how many have none, and how many albums there are. */
const [PEOPLE, STRANGERS, ALBUMS] = [40, 2000, 300] as const;

/** What describes faces of made-up people, as large as that of real ones: each person has a middle, and each face lies near it. */
function descriptions(random: () => number): (of: number) => { vector_a: Buffer; vector_b: Buffer } {
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  const vectors = (n: number, length: number) => Array.from({ length: n }, () => Float32Array.from({ length }, normal));
  const noise = { a: vectors(500, 512), b: vectors(500, 192) };
  const middles = { a: vectors(PEOPLE + STRANGERS + 1, 512), b: vectors(PEOPLE + STRANGERS + 1, 192) };
  const near = (of: number, which: 'a' | 'b') => {
    const middle = middles[which][of < 0 ? PEOPLE - of : of]!;
    const some = noise[which][Math.floor(random() * 500)]!;
    const vector = middle.map((x, i) => x + 0.8 * some[i]!);
    const length = Math.hypot(...vector);
    return Buffer.from(vector.map((x) => x / length).buffer);
  };
  return (of) => ({ vector_a: near(of, 'a'), vector_b: near(of, 'b') });
}

/**
 * Fills library 1 with `n` made-up pictures over twenty years, with events, faces, people, tags and albums; with `said`, three
 * tags a picture and a caption for six in ten.
 */
export async function fill({ db }: App, n: number, said = false): Promise<void> {
  const random = steady(7);
  const describe = descriptions(steady(9));
  const row = { library_id: 1 };
  const many = async <T extends object>(
    table: string,
    rows: T[],
    size = 1000,
    more: (index: number) => object = () => ({}),
  ) => {
    for (let i = 0; i < rows.length; i += size)
      await db(table).insert(rows.slice(i, i + size).map((r, k) => ({ ...row, ...r, ...more(i + k) })));
  };
  await db.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', 'Home library')");
  await many(
    'people',
    Array.from({ length: PEOPLE }, (_, i) => ({ id: i + 1, name: `Person ${i + 1}` })),
  );
  await many(
    'tags',
    Array.from({ length: 200 }, (_, i) => ({
      id: i + 1,
      name: `tag ${i + 1}`,
      folded: `tag ${i + 1}`,
      branch: `${i >= 20 ? 1 + (i % 20) : 0} tag ${i + 1}`,
      parent_id: i >= 20 ? 1 + (i % 20) : null,
    })),
  );
  await many(
    'batches',
    Array.from({ length: 50 }, (_, i) => ({ id: i + 1, name: `Batch ${i + 1}`, state: 'done' })),
  );
  await many(
    'devices',
    Array.from({ length: 6 }, (_, i) => ({ id: i + 1, name: `Camera ${i + 1}`, make: 'Made', model: `up ${i + 1}` })),
  );
  await many(
    'albums',
    Array.from({ length: ALBUMS }, (_, i) => ({ id: i + 1, kind: 'plain', name: `Album ${i + 1}` })),
  );
  const places = [
    ['SE', 'Uppsala'],
    ['SE', 'Visby'],
    ['PT', 'Mosteiros'],
    ['HU', 'Villány'],
    ['SE', 'Rosersberg'],
  ] as const;
  const thumbs = Array.from({ length: 64 }, () => thumbOf(random));
  const words = ['kite', 'lake', 'birthday', 'snow', 'harvest', 'garden', 'walk', 'supper'];
  const speak = speech(random);
  const spoken: object[] = [];
  const known = new Set<string>();
  const start = Date.UTC(2006, 0, 1);
  const pictures: object[] = [];
  const events: object[] = [];
  const faces: object[] = [];
  const whose: number[] = [];
  const tags: object[] = [];
  const albums: object[] = [];
  let time = start;
  let event = 0;
  const step = (20 * 365.25 * 86_400_000) / n;
  for (let i = 1; i <= n; i++) {
    if (event === 0 || random() < 0.025) {
      time = Math.max(time, start + i * step);
      event++;
      const day = new Date(time).toISOString().slice(0, 10);
      events.push({
        id: event,
        title: random() < 0.7 ? (said ? `${speak()} ${speak()} ${event}` : `Event ${event}`) : null,
        start_day: day,
        end_day: day,
      });
    } else time += random() * 240_000;
    const local = new Date(time).toISOString().slice(0, 23).replace('T', ' ');
    const place = places[Math.floor(random() * places.length)]!;
    const placed = random() < 0.7;
    const title = random() < 0.1 ? `${words[Math.floor(random() * 8)]} ${i}` : null;
    const caption =
      said && random() < 0.6 ? Array.from({ length: 4 + Math.floor(random() * 5) }, speak).join(' ') : null;
    const text = searchable([title, caption, `IMG_${i}.jpg`]);
    for (const word of wordsOf(text)) {
      spoken.push({ word, picture_id: i });
      known.add(word);
    }
    const dated = random() >= 0.01;
    const [width, height] = random() < 0.7 ? [4000, 3000] : random() < 0.8 ? [3000, 4000] : [4000, 2250];
    pictures.push({
      id: i,
      sha256: randomBytes(32),
      kind: random() < 0.04 ? 'video' : 'photo',
      format: 'jpg',
      name: `IMG_${i}.jpg`,
      vault_path: `${i}.jpg`,
      bytes: 3_000_000,
      width,
      height,
      taken_local: dated ? local : null,
      day: dated ? local.slice(0, 10) : null,
      event_id: event,
      batch_id: 1 + (i % 50),
      device_id: 1 + (i % 6),
      lat: placed ? 59 : null,
      lon: placed ? 17 : null,
      country: placed ? place[0] : null,
      place: placed ? place[1] : null,
      title,
      caption,
      camera: `Made up ${1 + (i % 6)}`,
      words: text,
      rating: random() < 0.6 ? 0 : Math.ceil(random() * 5),
      favourite: random() < 0.03,
      likeness: 1,
      sharpness: 100,
      thumb: thumbs[i % 64],
      // Nothing is left to be looked at: what is measured is not beside that work.
      observed_by: LOOKED.measured.version,
      seen_by: LOOKED.things.version,
      read_by: LOOKED.words.version,
    });
    for (let f = Math.floor(random() * 4); f > 0; f--) {
      const named = random() < 0.8;
      const person = 1 + Math.floor(PEOPLE * random() ** 2);
      whose.push(named ? person : -1 - Math.floor(STRANGERS * random()));
      faces.push({
        picture_id: i,
        x: 0.1,
        y: 0.1,
        w: 0.1,
        h: 0.1,
        height_px: 100,
        quality: random(),
        state: named ? 'named' : 'waiting',
        person_id: named ? person : null,
        named_by: named ? 'hand' : null,
      });
    }
    const mine = new Set(
      Array.from(
        { length: said ? 2 + Math.floor(random() * 4) : Math.floor(random() * 3) },
        () => 1 + Math.floor(200 * random() ** 2),
      ),
    );
    for (const tag_id of mine) tags.push({ picture_id: i, tag_id });
    if (random() < 0.15)
      albums.push({ album_id: 1 + Math.floor(random() * ALBUMS), picture_id: i, position: keyOfNumber(i) });
  }
  await many('events', events);
  await many('pictures', pictures, 500);
  await many('faces', faces, 1000, (i) => describe(whose[i]!));
  await many('picture_tags', tags);
  await many('album_pictures', albums);
  await many('picture_words', spoken, 2000);
  await many(
    'known_words',
    [...known].map((word) => ({ word, back: [...word].reverse().join('') })),
    2000,
  );
  await db.raw('ANALYZE TABLE picture_words, known_words, pictures, faces, picture_tags, album_pictures, events');
}
