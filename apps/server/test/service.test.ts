import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { toText } from '../src/http/metrics';
import { disableService, enableService, unitFile, unitOf } from '../src/service';

const OURS = {
  root: '/home/nora/our pictures',
  data: '/media/disk/100% ours/$data "x"',
  port: 4870,
  host: '127.0.0.1',
  system: true,
  user: 'nora',
};

describe('starting with the computer', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-unit-'));
    process.env['GEMMEL_UNITS'] = folder;
  });
  afterAll(() => {
    delete process.env['GEMMEL_UNITS'];
    rmSync(folder, { recursive: true, force: true });
  });

  test('a unit names folders as they are, whatever is in their names', () => {
    const unit = unitOf(OURS);
    expect(unit).toContain('User=nora');
    expect(unit).toContain('WantedBy=multi-user.target');
    expect(unit).toContain('"/home/nora/our pictures/gemmel" start --data "/media/disk/100%% ours/$$data \\"x\\""');
    expect(unitOf({ ...OURS, system: false })).not.toContain('User=');
    if (!existsSync('/usr/bin/systemd-analyze')) return;
    // What systemd itself says of it; that the program is not there is no fault of the unit.
    const file = path.join(folder, 'try.service');
    writeFileSync(file, unitOf({ ...OURS, root: '/usr' }).replace('"/usr/gemmel"', '/bin/true'));
    const said = (() => {
      try {
        return execFileSync('systemd-analyze', ['verify', file], {
          encoding: 'utf8',
          stdio: ['ignore', 'pipe', 'pipe'],
        });
      } catch (error) {
        return String((error as { stderr: string }).stderr);
      }
    })();
    expect(said.split('\n').filter((line) => line.includes('try.service'))).toEqual([]);
  });

  test('written and removed; where systemd does not answer, what is left to do is said', () => {
    const said: string[] = [];
    enableService({ ...OURS, system: false }, (line) => said.push(line));
    expect(readFileSync(unitFile(false), 'utf8')).toContain('SyslogIdentifier=gemmel');
    expect(said[0]).toContain(unitFile(false));
    expect(said.length).toBeGreaterThan(1);
    disableService(false, (line) => said.push(line));
    expect(existsSync(unitFile(false))).toBe(false);
  });

  test('figures as Prometheus reads them', () => {
    expect(
      toText([
        {
          name: 'a',
          help: 'What it is.',
          type: 'gauge',
          values: [
            [{}, 1],
            [{ place: 'The "hall"\\' }, 2],
          ],
        },
      ]),
    ).toBe('# HELP a What it is.\n# TYPE a gauge\na 1\na{place="The \\"hall\\"\\\\"} 2\n');
  });
});
