// Runs every test there is, says how long each part took, and closes with one line that counts them. `--long` tries more and with
// fresh chances; `--only lint,types,units,interface` runs some parts. See docs/tests.md.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statfsSync } from 'node:fs';
import { tmpdir, totalmem } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const out = path.join(root, 'e2e/out');
mkdirSync(out, { recursive: true });
const bin = (name) => path.join(root, 'node_modules/.bin', name);

const args = process.argv.slice(2);
const long = args.includes('--long');
const only = args[args.indexOf('--only') + 1]?.split(',');
const wanted = (part) => !args.includes('--only') || only.includes(part);
// What is found in a picture is kept for this run: the household is taken in many times over.
const seen = path.join(out, 'seen');
rmSync(seen, { recursive: true, force: true });

/** A folder for what tests write, in memory where there is plenty of it. */
function roomForTests() {
  const memory = '/dev/shm';
  const free = existsSync(memory) ? statfsSync(memory) : { bavail: 0, bsize: 0 };
  const plenty = free.bavail * free.bsize > 6e9 && totalmem() > 12e9;
  return mkdtempSync(path.join(plenty ? memory : tmpdir(), 'gemmel-test-'));
}
const room = roomForTests();
process.on('exit', () => rmSync(room, { recursive: true, force: true }));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => process.exit(1));
const inRoom = { TMPDIR: room, E2E_ROOM: room };
// Suites and walks keep the machine busy: heavy work would stand behind them for ever.
const env = {
  ...process.env,
  GEMMEL_SEEN: seen,
  GEMMEL_BEHIND: '0',
  ...(long ? { GEMMEL_LONG: '1', E2E_LONG: '1' } : {}),
};

let passed = 0;
let failed = 0;
const took = [];

/** Runs one thing to its end; what it says is shown as it comes, or at its end when others run beside it and it is wrong. */
function run(title, command, words, { beside = false, more = {} } = {}) {
  const began = Date.now();
  if (!beside) console.log(`\n== ${title}`);
  return new Promise((resolve) => {
    const child = spawn(command, words, {
      cwd: root,
      stdio: beside ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      env: { ...env, ...more },
    });
    let said = '';
    child.stdout?.on('data', (data) => (said += data));
    child.stderr?.on('data', (data) => (said += data));
    child.once('close', (status) => {
      const seconds = Math.round((Date.now() - began) / 1000);
      took.push([title, seconds]);
      const trimmed = said.replace(/^npm warn .*\n/gm, '').trim();
      if (trimmed && status !== 0) console.log(trimmed);
      console.log(`== ${title}: ${status === 0 ? 'right' : 'WRONG'}, ${seconds} s`);
      resolve(status === 0);
    });
  });
}
const count = (right) => (right ? passed++ : failed++);
const report = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

/** Builds what the tests run: the server's bundle and the pages. */
async function build() {
  const right =
    (await run('build of the server', process.execPath, ['scripts/build-server.mjs'], { beside: true })) &&
    (await run('build of the pages', process.execPath, ['scripts/build-web.mjs'], { beside: true }));
  if (right) return;
  console.log('Gemmel could not be built. Is the disk full?\n\n0 passed, 1 failed');
  process.exit(1);
}

/** Types and lint. */
async function read() {
  if (!wanted('lint') && !wanted('types')) return;
  const file = path.join(out, 'read.json');
  rmSync(file, { force: true });
  const words = ['scripts/read.mjs', ...(wanted('lint') && wanted('types') ? [] : [wanted('lint') ? 'lint' : 'types'])];
  await run('types and lint', 'nice', ['-n', '15', process.execPath, ...words], {
    beside: true,
    more: { READ_REPORT: file },
  });
  const parts = report(file);
  if (!parts) failed++;
  for (const { title, right, seconds } of parts ?? []) {
    count(right);
    took.push([`  ${title}`, seconds]);
  }
}

/** Sentences: whether the catalogues are those of the sources, and whole in every language. */
async function sentences() {
  if (wanted('lint'))
    count(
      await run('sentences', 'nice', ['-n', '15', process.execPath, 'scripts/words.mjs', '--check'], { beside: true }),
    );
}

/** What runs without a browser, on both cores. */
async function units() {
  const file = path.join(out, 'units.json');
  rmSync(file, { force: true });
  const words = [
    '--ci',
    '--json',
    `--outputFile=${file}`,
    `--cacheDirectory=${path.join(root, 'node_modules/.cache/jest')}`,
    '--maxWorkers=2',
  ];
  const right = await run('units and server', bin('jest'), words, { more: inRoom });
  const u = report(file);
  passed += u?.numPassedTests ?? 0;
  failed += (u?.numFailedTests ?? 0) + (u?.numRuntimeErrorTestSuites ?? 0);
  if (!right && !u?.numFailedTests && !u?.numRuntimeErrorTestSuites) failed++;
  const slow = (u?.testResults ?? [])
    .map((s) => [path.basename(s.name), Math.round((s.endTime - s.startTime) / 1000)])
    .sort((a, b) => b[1] - a[1])
    .slice(0, 10);
  console.log(`   the longest: ${slow.map(([name, seconds]) => `${name} ${seconds} s`).join(', ')}`);
}

/** The real interface in a browser. */
async function walk() {
  const file = path.join(out, 'interface.json');
  rmSync(file, { force: true });
  const words = ['test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json'];
  const right = await run('interface', bin('playwright'), words, {
    more: { ...inRoom, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
  });
  const w = report(file)?.stats;
  passed += (w?.expected ?? 0) + (w?.flaky ?? 0);
  failed += w?.unexpected ?? 0;
  if (!right && !w?.unexpected) failed++;
}

const began = Date.now();
// What reads has what time the others leave: suites and walks wait for each other here and there.
const reading = read().then(sentences);
if (wanted('units') || wanted('interface')) await build();
if (wanted('units')) await units();
if (wanted('interface')) await walk();
await reading;

const [minutes, seconds] = [Math.floor((Date.now() - began) / 60_000), Math.round((Date.now() - began) / 1000) % 60];
console.log(`\n${took.map(([title, time]) => `${String(time).padStart(5)} s  ${title}`).join('\n')}`);
console.log(`${minutes} min ${seconds} s in all${long ? ', the long form' : ''}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
