import type { Notice } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';

/** What happened, in one line. */
export function sentenceOf({ kind, who, text, pictures }: Notice): string {
  const title = text;
  switch (kind) {
    case 'comment':
      return t`${who} wrote: “${text}”`;
    case 'share':
      return t`${who} shares “${title}” with you.`;
    case 'waiting':
      return plural(pictures, {
        one: `${who} added # picture to “${title}”. It waits for your yes.`,
        other: `${who} added # pictures to “${title}”. They wait for your yes.`,
      });
    case 'added':
      return plural(pictures, { one: `${who} added # picture.`, other: `${who} added # pictures.` });
    case 'fresh':
      return plural(pictures, { one: '# new picture to look at.', other: '# new pictures to look at.' });
  }
}
