import { plural, t } from '@lingui/core/macro';
import type { Answer, Api } from '@gemmel/contract';
import { sayList } from '@/ui/say';

type Best = Answer<Api['bestOf']>;
type Reason = Best['pictures'][number]['reasons'][number];

/** What speaks for a picture, in a few words each. */
function one(reason: Reason, names: Best['names']): string {
  switch (reason.why) {
    case 'stars':
      return '★'.repeat(reason.n);
    case 'heart':
      return t`a heart`;
    case 'album':
      return plural(reason.n, { one: 'in an album already', other: 'in # albums already' });
    case 'person':
      return t`the first of ${names[String(reason.who)] ?? ''}`;
    case 'run':
      return t`the best of its run`;
    case 'sharp':
      return t`a sharp one`;
    case 'faces':
      return t`faces seen well`;
    case 'day':
      return t`the first of its day`;
    case 'month':
      return t`the first of its month`;
    case 'place':
      return t`the first of its place`;
  }
}

/** Why a picture was proposed: "★★★★ and the first of its day". */
export const sayBest = (reasons: readonly Reason[], names: Best['names']): string =>
  sayList(reasons.map((reason) => one(reason, names)));
