// Runs every test there is and closes with one line that counts them.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const out = path.join(root, 'e2e/out');
mkdirSync(out, { recursive: true });
const bin = (name) => path.join(root, 'node_modules/.bin', name);
let passed = 0;
let failed = 0;

function run(title, command, args, env = {}) {
  console.log(`\n== ${title}`);
  const began = Date.now();
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  console.log(`== ${title}: ${status === 0 ? 'right' : 'WRONG'}, ${Math.round((Date.now() - began) / 1000)} s`);
  return status === 0;
}
const count = (right) => (right ? passed++ : failed++);
const report = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

count(run('lint', bin('eslint'), ['.', '--max-warnings', '0']));
for (const room of ['packages/core', 'packages/contract', 'apps/server', 'apps/web', 'e2e', 'bench'])
  count(run(`types of ${room}`, bin('tsc'), ['-p', room]));

const units = path.join(out, 'units.json');
rmSync(units, { force: true });
const unitsRight = run('units and server', bin('jest'), ['--ci', '--json', `--outputFile=${units}`, '--maxWorkers=2']);
const u = report(units);
passed += u?.numPassedTests ?? 0;
failed += (u?.numFailedTests ?? 0) + (u?.numRuntimeErrorTestSuites ?? 0);
if (!unitsRight && !u?.numFailedTests && !u?.numRuntimeErrorTestSuites) failed++;

const walk = path.join(out, 'interface.json');
rmSync(walk, { force: true });
const walkRight = run(
  'interface',
  bin('playwright'),
  ['test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json'],
  {
    PLAYWRIGHT_JSON_OUTPUT_NAME: walk,
  },
);
const w = report(walk)?.stats;
passed += (w?.expected ?? 0) + (w?.flaky ?? 0);
failed += w?.unexpected ?? 0;
if (!walkRight && !w?.unexpected) failed++;

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
