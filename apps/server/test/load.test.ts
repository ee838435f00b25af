import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { withoutLocks } from '../src/safe/load';

const DUMP = [
  'LOCK TABLES `pictures` WRITE;',
  'INSERT INTO `pictures` VALUES',
  "(1,'LOCK TABLES `pictures` WRITE;\\nUNLOCK TABLES;'),",
  "(2,'Møte på øya — 写真');",
  'UNLOCK TABLES;',
  '',
].join('\n');
const WITHOUT = DUMP.split('\n')
  .filter((line) => !/^(UN)?LOCK/.test(line))
  .join('\n');

test('locks are left out of a dump wherever its parts are cut, and values stay as they are', async () => {
  const bytes = Buffer.from(DUMP);
  for (const size of [1, 3, 7, 40, bytes.length]) {
    const parts: Buffer[] = [];
    for (let at = 0; at < bytes.length; at += size) parts.push(bytes.subarray(at, at + size));
    expect((await buffer(Readable.from(parts).pipe(withoutLocks()))).toString()).toBe(WITHOUT);
  }
});
