import type { App } from '../context';
import { refreshEvents } from '../event/events';
import { refreshFaces } from '../faces/refresh';
import { seekLibrary } from '../faces/seek';
import { listSource } from '../gather/listing';
import { markAlike } from '../intake/alike';
import { follow } from '../intake/follow';
import { intake } from '../intake/intake';
import { settleBatch } from '../intake/items';
import { convertClip, moveClip } from '../picture/clips';
import { findClocks } from '../time/clocks';
import { refile } from '../vault/refile';
import { writeSidecars } from '../vault/sidecar';
import { verifyStored } from '../vault/verify';
import { Runner, type Handler, type JobKind } from './jobs';

/** Work over a whole library is done one piece at a time: files must not move while sidecars are written beside them. */
function oneAtATime(): (handler: Handler) => Handler {
  const last = new Map<number, Promise<void>>();
  return (handler) => (app, job) => {
    const mine = (last.get(job.library) ?? Promise.resolve()).catch(() => undefined).then(() => handler(app, job));
    last.set(job.library, mine);
    return mine;
  };
}

/** The runner with every handler of this server. */
export function makeRunner(app: App): Runner {
  const alone = oneAtATime();
  const handlers: Record<JobKind, Handler> = {
    intake,
    follow,
    list: listSource,
    moving: moveClip,
    transcode: convertClip,
    alike: markAlike,
    verify: verifyStored,
    events: alone(refreshEvents),
    clocks: alone(findClocks),
    faces: alone(refreshFaces),
    seek: seekLibrary,
    refile: alone(refile),
    sidecars: alone(writeSidecars),
  };
  return new Runner(app, handlers, app.config.threads + 2, async (job, reason) => {
    if (job.kind !== 'intake') return;
    const item = (await app.db('batch_items').where({ id: job.about, state: 'received' }).first('batch_id')) as
      { batch_id: number } | undefined;
    if (!item) return;
    await app
      .db('batch_items')
      .where('id', job.about)
      .update({
        state: 'failed',
        reason: `could not be taken in: ${reason}`.slice(0, 400),
        finished_at: app.db.raw('UTC_TIMESTAMP(3)'),
      });
    await settleBatch(app, job.library, item.batch_id);
  });
}
