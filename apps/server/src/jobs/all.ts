import { manifestsJob } from '../album/manifest';
import { emptyJob } from '../bin/empty';
import { eventsJob } from '../event/events';
import { facesJob } from '../faces/refresh';
import { seekJob } from '../faces/seek';
import { listJob } from '../gather/listing';
import { followJob } from '../intake/follow';
import { intakeJob } from '../intake/intake';
import { readingJob, thingsJob } from '../observe/looks';
import { observeJob } from '../observe/observe';
import { movingJob, transcodeJob } from '../picture/clips';
import { backupJob } from '../safe/backup';
import { safePartJob } from '../safe/check';
import { readBackJob } from '../safe/mend';
import { rehearseJob } from '../safe/rehearse';
import { bookJob } from '../keep/book';
import { exportJob } from '../keep/exportLibrary';
import { moveJob } from '../keep/move';
import { openJob } from '../keep/open';
import { openStateJob } from '../keep/fromState';
import { repairJob } from '../keep/repair';
import { splitJob } from '../keep/split';
import { tidyJob } from '../keep/tidy';
import { eraseJob } from '../library/erase';
import { settleJob } from '../keep/settle';
import { pieceJob } from '../piece/produce';
import { deriveJob } from '../media/again';
import { alikeJob } from '../run/alike';
import { clocksJob } from '../time/clocks';
import { printsJob } from '../scan/scans';
import { viewsJob } from '../touchup/views';
import { refileJob } from '../vault/refile';
import { sidecarsJob } from '../vault/sidecar';
import { verifyJob } from '../vault/verify';
import type { App } from '../context';
import { Runner } from './runner';
import type { JobDefinition } from './kind';

/** Every kind of work this server does. */
export const JOBS = [
  intakeJob,
  followJob,
  listJob,
  movingJob,
  transcodeJob,
  alikeJob,
  verifyJob,
  eventsJob,
  clocksJob,
  facesJob,
  seekJob,
  observeJob,
  thingsJob,
  readingJob,
  emptyJob,
  viewsJob,
  printsJob,
  refileJob,
  sidecarsJob,
  manifestsJob,
  deriveJob,
  backupJob,
  safePartJob,
  rehearseJob,
  readBackJob,
  bookJob,
  settleJob,
  repairJob,
  tidyJob,
  exportJob,
  openJob,
  openStateJob,
  moveJob,
  splitJob,
  eraseJob,
  pieceJob,
] as unknown as readonly JobDefinition[];

/** A runner that does every kind of work of this server. */
export const makeRunner = (app: App): Runner => new Runner(app, JOBS, app.config.threads + 2);
