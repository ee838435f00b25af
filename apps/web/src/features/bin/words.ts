import { t } from '@lingui/core/macro';
import type { Binned } from '@gemmel/contract';
import { sayDay } from '@/ui/say';

/** How long something stays, in words: “until 3 June 2027”. */
export const sayUntil = ({ until }: Binned): string =>
  until === null ? t`until the bin is emptied` : t`until ${sayDay(until.slice(0, 10))}`;
