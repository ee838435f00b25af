// A phone's sync application, through a WebDAV client that knows nothing of Gemmel: does what it is told, prints what came of it.
import { readFileSync } from 'node:fs';
import { createClient } from 'webdav';

const { address, username, password, acts } = JSON.parse(readFileSync(0, 'utf8'));
const client = createClient(address, { username, password });
const told = [];
for (const [act, ...rest] of acts) {
  try {
    const result =
      act === 'put'
        ? await client.putFileContents(rest[0], readFileSync(rest[1]), { overwrite: true })
        : act === 'get'
          ? (await client.getFileContents(rest[0])).toString('base64')
          : act === 'list'
            ? (await client.getDirectoryContents(rest[0])).map((one) => [one.filename, one.type, one.size])
            : await client[act](...rest);
    told.push(result ?? null);
  } catch (error) {
    told.push({ status: error.status ?? error.message });
  }
}
console.log(JSON.stringify(told));
