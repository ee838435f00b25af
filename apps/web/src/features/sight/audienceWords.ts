import type { Audience, AudienceWhy, Meant } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { sayList } from '@/ui/say';

/** Audiences from the narrowest to the widest. */
export const AUDIENCES = ['me', 'house', 'family', 'link'] as const;

const NAMES: Record<Audience, MessageDescriptor> = {
  me: msg`Only me`,
  house: msg`The house`,
  family: msg`The family`,
  link: msg`Anybody with a link`,
};
/** An audience by its name. */
export const sayAudience = (audience: Audience): string => i18n._(NAMES[audience]);

const MEANS: Record<Audience, MessageDescriptor> = {
  me: msg`Nobody else sees it, not even another keeper.`,
  house: msg`Keepers and helpers see it. Sharing it further asks you first.`,
  family: msg`Relatives see it too, where it’s among what you show them.`,
  link: msg`It may go into any share.`,
};
/** What an audience means. */
export const sayMeans = (audience: Audience): string => i18n._(MEANS[audience]);

const SEE: Record<Audience, (n: number) => string> = {
  me: (n) => plural(n, { one: '# only you see', other: '# only you see' }),
  house: (n) => plural(n, { one: '# for the house', other: '# for the house' }),
  family: (n) => plural(n, { one: '# for the family', other: '# for the family' }),
  link: (n) => plural(n, { one: '# for anybody with a link', other: '# for anybody with a link' }),
};

/** For whom some pictures are, in a line: a single one by its audience, several with how many are for each. */
export function sayMeant({ meant }: Meant): string {
  const there = AUDIENCES.filter((one) => meant[one]);
  const [only] = there;
  return there.length === 1 && only ? sayAudience(only) : sayList(there.map((one) => SEE[one](meant[one])));
}

/** Why a picture is for whom it is. */
export function sayWhy({ of, name }: AudienceWhy): string {
  const called = name ?? '';
  switch (of) {
    case 'pictures':
      return t`You set this for the picture itself.`;
    case 'person':
    case 'circle':
      return t`Like every picture with ${called}.`;
    case 'album':
      return t`Like everything in “${called}”.`;
    case 'device':
      return t`Like everything from ${called}.`;
    case 'place':
      return t`Like everything taken at ${called}.`;
    case 'library':
      return t`Like everything you haven’t set otherwise.`;
  }
}
