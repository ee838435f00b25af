import { plural, t } from '@lingui/core/macro';
import type { Answer, Api, CallInput, Picture } from '@gemmel/contract';
import { sayList } from '@/ui/say';
import { call, Told } from '@/api/client';
import { queries } from '@/api/query';
import { say } from '@/state/toast';
import { newId } from './newId';
import { type Act, letGo, putDown, readOutbox, useOutbox } from './outbox';

/** What somebody else said meanwhile, in words. */
function theirsIn({ was }: Act, picture: Picture): string {
  const said = [
    was?.rating === undefined
      ? ''
      : picture.rating === 0
        ? t`no stars`
        : plural(picture.rating, { one: '# star', other: '# stars' }),
    was?.title === undefined ? '' : (picture.title ?? t`no title`),
    was?.caption === undefined ? '' : (picture.caption ?? t`no caption`),
    was?.mark === undefined ? '' : (picture.label ?? t`no mark`),
  ].filter(Boolean);
  return sayList(said);
}

const pictureNow = (id: number) => call('picture', { params: { id } });

/** Whether a face an act names has been named otherwise meanwhile; answers with what it is called now. */
async function otherwise(act: Act): Promise<string | null> {
  const { is } = (act.input as CallInput<Api['answerFaces']>).body;
  for (const { id, picture, person } of act.faces ?? []) {
    const now = (await pictureNow(picture)).faces.find((face) => face.id === id);
    if (!now) continue;
    const meant =
      typeof is === 'object' && ('person' in is ? now.person?.id === is.person : now.person?.name === is.newPerson);
    if ((now.person?.id ?? null) !== person && !meant) return now.person?.name ?? t`nobody`;
  }
  return null;
}

/** Sends one act; answers whether the next may follow. */
async function sendOne(act: Act, mine: boolean): Promise<boolean> {
  try {
    if (act.name === 'answerFaces' && !mine) {
      const theirs = await otherwise(act);
      if (theirs !== null) {
        await putDown({ ...act, stuck: { why: 'changed', theirs } });
        return true;
      }
    }
    const input =
      act.name === 'change' && act.was && !mine
        ? { body: { ...(act.input as CallInput<Api['change']>).body, was: act.was } }
        : act.input;
    const answer = await call(act.name, input as CallInput<Api[typeof act.name]>, undefined, { once: act.id });
    const left = act.name === 'change' ? ((answer as Answer<Api['change']>).left ?? []) : [];
    if (left.length) {
      const now = await pictureNow(left[0]!);
      await putDown({ ...act, stuck: { why: 'changed', theirs: theirsIn(act, now) } });
    } else await letGo(act.id);
    return true;
  } catch (error) {
    if (!(error instanceof Told)) throw error;
    // No line, nobody signed in, or a server in trouble: it waits on.
    if (error.status === 0 || error.status === 401 || error.status >= 500) return false;
    await putDown({
      ...act,
      stuck: error.status === 404 ? { why: 'gone' } : { why: 'refused', reason: error.saying },
    });
    return true;
  }
}

/** Sends everything that waits, in the order it was done, and asks anew for everything. One page of this browser does it. */
export async function replay(): Promise<void> {
  await navigator.locks.request('gemmel-acts', async () => {
    await readOutbox();
    const waiting = useOutbox.getState().acts.filter((act) => !act.stuck);
    let sent = 0;
    for (const act of waiting) {
      if (!(await sendOne(act, false))) break;
      sent++;
    }
    if (sent === 0) return;
    void queries.invalidateQueries();
    const stuck = useOutbox.getState().acts.filter((act) => act.stuck).length;
    say(
      stuck
        ? plural(stuck, {
            one: '# change wasn’t saved: somebody else got there first. See “On this device”.',
            other: '# changes weren’t saved: somebody else got there first. See “On this device”.',
          })
        : plural(sent, { one: 'Your change is saved.', other: 'All # changes are saved.' }),
    );
  });
}

/** Sends an act that was not taken, whatever has been said since. */
export async function sendAnyway(act: Act): Promise<void> {
  await navigator.locks.request('gemmel-acts', async () => {
    const { stuck: _, ...again } = act;
    void _;
    // It is let go of when it has been sent, or is told anew; a line that is lost just now leaves it where it was.
    if (!(await sendOne({ ...again, id: newId() }, true))) throw new Told(null, 0);
    await letGo(act.id);
    void queries.invalidateQueries();
  });
}
