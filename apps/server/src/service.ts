import { t } from '@lingui/core/macro';
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { homedir, userInfo } from 'node:os';
import path from 'node:path';
import { CannotStart } from './cannotStart';

/** How Gemmel is to run by itself. */
export interface Service {
  /** The folder of the program, and that of the data. */
  root: string;
  data: string;
  port: number;
  host: string;
  /** The whole machine's, or the person's own. */
  system: boolean;
  /** Whose it is. */
  user: string;
}

const NAME = 'gemmel.service';

/** A word of a unit file: with what systemd would take for something else made plain (systemd.syntax(7)). */
const word = (text: string): string =>
  `"${text.replace(/\\/g, '\\\\').replace(/"/g, '\\"').replace(/%/g, '%%').replace(/\$/g, '$$$$')}"`;

/** The unit (systemd.unit(5)): started with the machine, again when it fails, told to stop gently, writing into the journal. */
export const unitOf = ({ root, data, port, host, system, user }: Service): string => `[Unit]
Description=Gemmel, the household's pictures
Documentation=file://${path.join(root, 'docs/keep.md').replace(/%/g, '%%').replace(/ /g, '%%20')}
After=network.target local-fs.target
RequiresMountsFor=${word(data)}

[Service]
Type=exec
${system ? `User=${user}\n` : ''}ExecStart=${word(path.join(root, 'gemmel'))} start --data ${word(data)} --port ${port} --host ${host}
WorkingDirectory=${root.replace(/%/g, '%%')}
Restart=on-failure
RestartSec=5
KillMode=mixed
TimeoutStopSec=120
NoNewPrivileges=true
PrivateTmp=false
StandardOutput=journal
StandardError=journal
SyslogIdentifier=gemmel

[Install]
WantedBy=${system ? 'multi-user.target' : 'default.target'}
`;

/** Where the unit lies. */
export const unitFile = (system: boolean, env: NodeJS.ProcessEnv = process.env): string =>
  system
    ? path.join(env['GEMMEL_UNITS'] ?? '/etc/systemd/system', NAME)
    : path.join(
        env['GEMMEL_UNITS'] ?? path.join(env['XDG_CONFIG_HOME'] ?? path.join(homedir(), '.config'), 'systemd/user'),
        NAME,
      );

/** Runs systemctl; answers whether it is there and did it. */
function systemctl(system: boolean, ...words: string[]): boolean {
  try {
    execFileSync('systemctl', [...(system ? [] : ['--user']), ...words], { stdio: 'pipe' });
    return true;
  } catch {
    return false;
  }
}

/** Writes the unit, enables and starts it; where systemd does not answer, says what is left to do by hand. */
export function enableService(service: Service, say: (line: string) => void): void {
  const file = unitFile(service.system);
  try {
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(file, unitOf(service), { mode: 0o644 });
  } catch (error) {
    if (['EACCES', 'EPERM', 'EROFS'].includes((error as NodeJS.ErrnoException).code ?? ''))
      throw new CannotStart(
        t`${file} can’t be written. Run this as root for the whole machine, or leave out --system.`,
      );
    throw error;
  }
  say(t`Written: ${file}`);
  const by = service.system ? 'systemctl' : 'systemctl --user';
  if (!systemctl(service.system, 'daemon-reload') || !systemctl(service.system, 'enable', '--now', NAME)) {
    say(t`systemd doesn’t answer here. Where it does: ${`${by} daemon-reload && ${by} enable --now ${NAME}`}`);
    return;
  }
  say(
    t`Gemmel starts with the computer from now on. Its log: ${`journalctl ${service.system ? '' : '--user '}-u ${NAME}`}`,
  );
  if (!service.system) {
    try {
      execFileSync('loginctl', ['enable-linger', userInfo().username], { stdio: 'pipe' });
    } catch {
      say(t`So that it runs while nobody is signed in: ${`sudo loginctl enable-linger ${userInfo().username}`}`);
    }
  }
}

/** Ends the service and removes its unit. What it served stays. */
export function disableService(system: boolean, say: (line: string) => void): void {
  systemctl(system, 'disable', '--now', NAME);
  rmSync(unitFile(system), { force: true });
  systemctl(system, 'daemon-reload');
  say(t`Gemmel no longer starts by itself.`);
}
