import { t } from '@lingui/core/macro';
import { say } from '@/state/toast';
import { showAgain } from './foresee';
import { letGo, sayOf, useOutbox } from './outbox';

/** Takes back something that has not been sent yet. */
export async function takeBackWaiting(id: string): Promise<void> {
  const act = useOutbox.getState().acts.find((one) => one.id === id);
  if (!act) return;
  await letGo(id);
  await showAgain(act.before ?? []);
}

/** Says what was done without a line, and that it will be sent. */
export async function sayWaiting(id: string, said: string): Promise<void> {
  await sayOf(id, said);
  say(t`${said}. It’s sent as soon as there is a connection.`, { label: t`Undo`, act: () => takeBackWaiting(id) });
}
