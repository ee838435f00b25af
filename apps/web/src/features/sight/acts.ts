import type { Audience, AudienceOf } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { sayAudience } from './audienceWords';

type Thing = Exclude<AudienceOf, 'pictures' | 'library'>;
const TOPICS = { person: 'people', circle: 'people', album: 'albums', device: 'sources', place: 'events' } as const;

/** Says for whom some pictures are; null leaves it to what they belong to. */
export const sayOfPictures = (ids: readonly number[], audience: Audience | null) => {
  const whom = audience && sayAudience(audience);
  return act(
    () => call('sayAudience', { body: { of: 'pictures', ids: [...ids], audience } }),
    whom
      ? plural(ids.length, { one: `# picture: ${whom}`, other: `# pictures: ${whom}` })
      : plural(ids.length, {
          one: '# picture: no longer set',
          other: '# pictures: no longer set',
        }),
    'pictures',
  );
};

/** Says for whom the pictures are that belong to something; null says nothing of it. */
export const sayOf = (of: Thing, id: number, name: string, audience: Audience | null) =>
  act(
    () => call('sayAudience', { body: { of, id, audience } }),
    audience ? t`${name}: ${sayAudience(audience)}` : t`${name}: no longer set`,
    'pictures',
    TOPICS[of],
  );

/** Says for whom pictures are of which nothing else is said. */
export const sayOfLibrary = (audience: Exclude<Audience, 'me'>) =>
  act(
    () => call('sayAudience', { body: { of: 'library', audience } }),
    t`Everything else: ${sayAudience(audience)}`,
    'library',
    'pictures',
  );
