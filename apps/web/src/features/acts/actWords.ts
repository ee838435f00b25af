import type { Act } from '@gemmel/contract';
import { type Language, LANGUAGE } from '@gemmel/core';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { AUDIENCES, sayAudience } from '@/features/sight/audienceWords';
import { sayBytes, sayDay, sayList } from '@/ui/say';

type Words = Act['words'];

const FIELDS: Record<string, MessageDescriptor> = {
  title: msg`title`,
  caption: msg`caption`,
  stars: msg`stars`,
  mark: msg`mark`,
  place: msg`place`,
  span: msg`days`,
  cover: msg`cover`,
};
/** What can be changed of things, as a list of it reads: “title and caption”. */
export const fields = (what: readonly string[]): string =>
  sayList(
    what.map((one) => {
      const known = FIELDS[one];
      return known ? i18n._(known) : one;
    }),
  );
const quoted = (names: readonly string[]): string => sayList(names.map((name) => t`“${name}”`));

/** An event by its name, or by the day it begins on. */
const event = (name: string | null | undefined, day: string | undefined): string =>
  name ? t`“${name}”` : day ? t`the event on ${sayDay(day)}` : t`an event`;

function saidOfPictures({ rating, favourite, to, what: all = [] }: Words, n: number): string {
  const parts: string[] = [];
  // A mark that was given says its meaning; one that was taken away is a change like others.
  const what = to ? all.filter((one) => one !== 'mark') : all;
  if (to && what.length < all.length)
    parts.push(plural(n, { one: `Marked # picture “${to}”`, other: `Marked # pictures “${to}”` }));
  if (rating)
    parts.push(
      plural(n, {
        one: `Gave ${'★'.repeat(rating)} to # picture`,
        other: `Gave ${'★'.repeat(rating)} to # pictures`,
      }),
    );
  if (rating === 0)
    parts.push(plural(n, { one: 'Removed the stars of # picture', other: 'Removed the stars of # pictures' }));
  if (favourite === true) parts.push(plural(n, { one: 'Gave # picture a heart', other: 'Gave # pictures a heart' }));
  if (favourite === false)
    parts.push(plural(n, { one: 'Removed the heart of # picture', other: 'Removed the hearts of # pictures' }));
  if (what.length) {
    const changed = fields(what);
    parts.push(plural(n, { one: `Changed ${changed} of # picture`, other: `Changed ${changed} of # pictures` }));
  }
  return parts.join(' · ') || plural(n, { one: 'Described # picture', other: 'Described # pictures' });
}

function answered({ what = [], to, n = 0 }: Words): string {
  switch (what[0]) {
    case 'later':
      return plural(n, { one: 'Put # face off until later', other: 'Put # faces off until later' });
    case 'not them':
      return plural(n, { one: 'Said # face is somebody else', other: 'Said # faces are somebody else' });
    case 'passer-by':
      return plural(n, { one: 'Marked # face as a passer-by', other: 'Marked # faces as passers-by' });
    case 'not a face':
      return plural(n, { one: 'Said # mark isn’t a face', other: 'Said # marks aren’t faces' });
    default:
      return plural(n, { one: `Named # face ${to ?? ''}`, other: `Named # faces ${to ?? ''}` });
  }
}

function changedPerson({ name = '', to, favourite, what = [] }: Words): string {
  if (what.length === 1 && favourite !== undefined)
    return favourite ? t`Made ${name} a favourite` : t`Removed ${name} from the favourites`;
  if (to && to !== name) return t`Renamed ${name} to ${to}`;
  return what.length === 1 && what[0] === 'portrait'
    ? t`Chose a portrait of ${name}`
    : t`Changed the details of ${name}`;
}

function changedTag({ name = '', to, what = [] }: Words): string {
  if (what.includes('name')) return t`Renamed the tag “${name}” to “${to ?? ''}”`;
  if (what.includes('parent'))
    return to ? t`Moved the tag “${name}” below “${to}”` : t`Moved the tag “${name}” to the top`;
  return t`Changed the spellings of “${name}”`;
}

function placed({ to, what = [] }: Words, n: number): string {
  if (what.includes('none'))
    return plural(n, { one: 'Removed the place of # picture', other: 'Removed the places of # pictures' });
  return to
    ? plural(n, { one: `Put # picture at ${to}`, other: `Put # pictures at ${to}` })
    : plural(n, { one: 'Gave # picture a place', other: 'Gave # pictures their places' });
}

/** What was done, as one line of the diary: “Gave ★★★★ to 12 pictures”. Who did it stands beside it. */
export function actWords({ kind, words, pictures: all }: Pick<Act, 'kind' | 'words' | 'pictures'>): string {
  const { name = '', to = null, n = 0, less = 0, favourite, what = [], day, toDay } = words;
  const renamed = to !== null && to !== name;
  switch (kind) {
    case 'say':
      return saidOfPictures(words, all);
    case 'tag':
      return plural(all, { one: `Tagged # picture ${quoted(what)}`, other: `Tagged # pictures ${quoted(what)}` });
    case 'untag':
      return plural(all, {
        one: `Removed the tag ${quoted(what)} from # picture`,
        other: `Removed the tag ${quoted(what)} from # pictures`,
      });
    case 'comment':
      return t`Commented “${to ?? ''}”`;
    case 'change comment':
      return t`Changed a comment: “${to ?? ''}”`;
    case 'remove comment':
      return t`Removed a comment: “${to ?? ''}”`;
    case 'make mark':
      return t`Made the mark “${name}”`;
    case 'change mark':
      return renamed ? t`Renamed the mark “${name}” to “${to}”` : t`Changed the mark “${name}”`;
    case 'remove mark':
      return t`Removed the mark “${name}”`;
    case 'make tag':
      return t`Made the tag “${name}”`;
    case 'change tag':
      return changedTag(words);
    case 'join tags':
      return plural(n, {
        one: `Joined the tag “${name}” into “${to ?? ''}”: # picture`,
        other: `Joined the tag “${name}” into “${to ?? ''}”: # pictures`,
      });
    case 'clear tag':
      return plural(n, {
        one: `Took the tag “${name}” off # picture`,
        other: `Took the tag “${name}” off # pictures`,
      });
    case 'remove tag':
      return t`Removed the tag “${name}”`;
    case 'keep tags apart':
      return t`Said that “${name}” and “${to ?? ''}” are different`;
    case 'make pin':
      return t`Kept at hand: ${name}`;
    case 'change pin':
      return t`Changed at hand: ${name}`;
    case 'remove pin':
      return t`No longer at hand: ${name}`;
    case 'observing':
      return t`Changed what the machine looks for`;
    case 'not again':
      return what?.[0] === 'events'
        ? name
          ? t`No longer shown on its day in other years: ${name}`
          : t`An event is no longer shown on its day in other years`
        : t`A picture is no longer shown on its day in other years`;
    case 'not so':
      return plural(all, {
        one: 'Said that what was noticed of # picture is not so',
        other: 'Said that what was noticed of # pictures is not so',
      });
    case 'date':
      return to
        ? plural(all, { one: `Dated # picture “${to}”`, other: `Dated # pictures “${to}”` })
        : plural(all, { one: 'Corrected the date of # picture', other: 'Corrected the dates of # pictures' });
    case 'place':
      return placed(words, all);
    case 'number':
      return plural(all, {
        one: `Numbered # file, the first “${to ?? name}”`,
        other: `Numbered # files, the first “${to ?? name}”`,
      });
    case 'settle':
      return to === 'kept'
        ? plural(all, {
            one: `Left ${fields(what)} of # picture as it was`,
            other: `Left ${fields(what)} of # pictures as it was`,
          })
        : plural(all, {
            one: `Took over ${fields(what)} of # picture from elsewhere`,
            other: `Took over ${fields(what)} of # pictures from elsewhere`,
          });
    case 'name event':
      return to ? t`Named ${event(name, day)} “${to}”` : t`Removed the name of ${event(name, day)}`;
    case 'split event':
      return plural(n, {
        one: `Split ${event(name, day)}: # picture became its own event`,
        other: `Split ${event(name, day)}: # pictures became their own event`,
      });
    case 'join events':
      return t`Joined ${event(name, day)} with ${event(to, toDay)}`;
    case 'move to event':
      return to || toDay
        ? plural(n, {
            one: `Moved # picture to ${event(to, toDay)}`,
            other: `Moved # pictures to ${event(to, toDay)}`,
          })
        : plural(n, { one: 'Took # picture out of its event', other: 'Took # pictures out of their event' });
    case 'make event':
      return name
        ? t`Made the event “${name}”`
        : plural(all, { one: 'Made an event of # picture', other: 'Made an event of # pictures' });
    case 'remove event':
      return t`Removed ${event(name, day)} as an event`;
    case 'change event':
      return t`Changed ${event(name, day)}: ${fields(what)}`;
    case 'answer faces':
      return answered(words);
    case 'draw face':
      return to ? t`Marked a face and named it ${to}` : t`Marked a face`;
    case 'change person':
      return changedPerson(words);
    case 'join people':
      return t`Joined ${name} with ${to ?? ''}`;
    case 'forget person':
      return t`Removed the name ${name}`;
    case 'make circle':
      return t`Made the circle “${name}”`;
    case 'change circle':
      return renamed ? t`Renamed the circle “${name}” to “${to}”` : t`Changed the circle “${name}”`;
    case 'remove circle':
      return t`Removed the circle “${name}”`;
    case 'make album':
      if (what.includes('copy')) return t`Made “${name}”, an album like “${to ?? ''}”`;
      if (what.includes('frozen')) return t`Froze “${to ?? ''}” as the album “${name}”`;
      return what.includes('smart') ? t`Made the smart album “${name}”` : t`Made the album “${name}”`;
    case 'make albums':
      return plural(n, {
        one: `Made # album, one for each folder of “${name}”`,
        other: `Made # albums, one for each folder of “${name}”`,
      });
    case 'decline album':
      return name ? t`Made no album of “${name}”` : t`Made no album of a batch`;
    case 'change album':
      return renamed ? t`Renamed the album “${name}” to “${to}”` : t`Changed the album “${name}”`;
    case 'fill album':
      return plural(n, { one: `Added # picture to “${name}”`, other: `Added # pictures to “${name}”` });
    case 'take out of album':
      return plural(n, { one: `Took # picture out of “${name}”`, other: `Took # pictures out of “${name}”` });
    case 'order album':
      return t`Put “${name}” in another order`;
    case 'move pictures':
      return plural(n, {
        one: `Moved # picture from “${name}” to “${to ?? ''}”`,
        other: `Moved # pictures from “${name}” to “${to ?? ''}”`,
      });
    case 'join albums':
      return t`Joined the album “${name}” into “${to ?? ''}”`;
    case 'make chapter':
      return t`Added the chapter “${to ?? ''}” to “${name}”`;
    case 'change chapter':
      return t`Changed the chapter “${to ?? ''}” of “${name}”`;
    case 'remove chapter':
      return t`Removed the chapter “${to ?? ''}” of “${name}”`;
    case 'put in by hand':
      return plural(n, {
        one: `Put # picture into “${name}” by hand`,
        other: `Put # pictures into “${name}” by hand`,
      });
    case 'keep out':
      return plural(n, { one: `Kept # picture out of “${name}”`, other: `Kept # pictures out of “${name}”` });
    case 'let decide':
      return t`Let “${name}” decide by its question again`;
    case 'make shelf':
      return t`Made the shelf “${name}”`;
    case 'change shelf':
      return renamed ? t`Renamed the shelf “${name}” to “${to}”` : t`Changed the shelf “${name}”`;
    case 'order shelf':
      return t`Changed the order of albums and shelves`;
    case 'put on shelf':
      return to ? t`Put “${name}” on the shelf “${to}”` : t`Put “${name}” on no shelf`;
    case 'remove shelf':
      return what.includes('go') && n
        ? plural(n, {
            one: `Removed the shelf “${name}” with # album`,
            other: `Removed the shelf “${name}” with # albums`,
          })
        : t`Removed the shelf “${name}”`;
    case 'make show':
      return t`Kept the show “${name}”`;
    case 'change show':
      return renamed ? t`Renamed the show “${name}” to “${to}”` : t`Changed the show “${name}”`;
    case 'remove show':
      return t`Removed the show “${name}”`;
    case 'make piece':
      return t`Began making “${name}”`;
    case 'change piece':
      return renamed ? t`Renamed “${name}” to “${to}”` : t`Changed how “${name}” is made`;
    case 'remove piece':
      return t`Removed “${name}”`;
    case 'bring music':
      return t`Brought in the music “${name}”`;
    case 'change music':
      return t`Renamed the music “${name}” to “${to ?? ''}”`;
    case 'remove music':
      return t`Removed the music “${name}”`;
    case 'make shelves':
      return plural(n, {
        one: `Made shelves of the folder “${name}”, with # album`,
        other: `Made shelves of the folder “${name}”, with # albums`,
      });
    case 'remove album':
      return t`Removed the album “${name}”`;
    case 'mend clock':
      return plural(all, {
        one: `Corrected the clock of ${name} in # picture`,
        other: `Corrected the clock of ${name} in # pictures`,
      });
    case 'keep clock':
      return t`Said the clock of ${name} is right`;
    case 'make place':
      return t`Named a place “${name}”`;
    case 'change place':
      return renamed ? t`Renamed the place “${name}” to “${to}”` : t`Changed the place “${name}”`;
    case 'remove place':
      return t`Removed the place “${name}”`;
    case 'settle gaps':
      return plural(n, {
        one: `Stopped waiting for # gap in the numbers of ${name}`,
        other: `Stopped waiting for # gaps in the numbers of ${name}`,
      });
    case 'name device':
      return t`Named ${name} “${to ?? ''}”`;
    case 'change source':
      if (what.includes('removed')) return t`Removed ${name} from the list`;
      return what.includes('putOff') ? t`Put ${name} off` : t`Named ${name} “${to ?? ''}”`;
    case 'say audience': {
      const [of, audience] = what;
      const whom = AUDIENCES.find((one) => one === audience);
      if (of === 'pictures')
        return whom
          ? plural(all, {
              one: `Set who # picture is for: ${sayAudience(whom)}`,
              other: `Set who # pictures are for: ${sayAudience(whom)}`,
            })
          : plural(all, {
              one: 'No longer set who # picture is for',
              other: 'No longer set who # pictures are for',
            });
      if (of === 'library' && whom) return t`Set who everything else is for: ${sayAudience(whom)}`;
      return whom ? t`Set who ${name} is for: ${sayAudience(whom)}` : t`No longer set who ${name} is for`;
    }
    case 'address':
      return to ? t`Set the address for guests to ${to}` : t`Took the address for guests away`;
    case 'open share':
      return t`Opened the share “${name}”`;
    case 'change share':
      return t`Changed the share “${renamed ? (to ?? '') : name}”`;
    case 'guest yes':
      return plural(n, {
        one: `Said yes to # picture ${name} added to “${to ?? ''}”`,
        other: `Said yes to # pictures ${name} added to “${to ?? ''}”`,
      });
    case 'guest no':
      return t`Said no to what ${name} added`;
    case 'hide comment':
      return t`Hid a guest’s comment: “${to ?? ''}”`;
    case 'show comment':
      return t`Showed a guest’s comment again: “${to ?? ''}”`;
    case 'close share':
      return t`Closed the share “${name}”`;
    case 'reopen share':
      return t`Opened the share “${name}” again`;
    case 'sureness':
      return t`Changed how sure recognition must be`;
    case 'file':
      return [
        n ? plural(n, { one: 'Named # face automatically', other: 'Named # faces automatically' }) : '',
        less ? plural(less, { one: 'Left # face to be named by hand', other: 'Left # faces to be named by hand' }) : '',
      ]
        .filter(Boolean)
        .join(' · ');
    case 'layout':
      return t`Rearranged the folders of originals`;
    case 'language':
      return t`Set the language of the library to ${LANGUAGE[to as Language]?.name ?? to ?? ''}`;
    case 'zone':
      return t`Set the time zone of the library to ${to ?? ''}`;
    case 'library name':
      return t`Called the library “${to ?? ''}”`;
    case 'to another library':
      return plural(n, {
        one: `Gave # picture to the library “${to}”`,
        other: `Gave # pictures to the library “${to}”`,
      });
    case 'recognition':
      return favourite ? t`Switched recognition on` : t`Switched recognition off`;
    case 'recognise person':
      return favourite ? t`Recognising ${name} again` : t`Stopped recognising ${name}`;
    case 'touch up':
      return what.length
        ? plural(all, { one: 'Touched up # picture', other: 'Touched up # pictures' })
        : plural(all, { one: 'Showed # picture as it was taken', other: 'Showed # pictures as they were taken' });
    case 'second look':
      return t`Made a second look beside the first`;
    case 'take apart':
      return plural(n, { one: 'Cut # print out of a scan', other: 'Took a scan apart into # pictures' });
    case 'keep whole':
      return t`Kept a scan as one picture`;
    case 'pair':
      return plural(n, { one: 'Put a back behind its front', other: 'Put # backs behind their fronts' });
    case 'unpair':
      return plural(n, { one: 'Kept # pair as two pictures', other: 'Kept # pairs as two pictures each' });
    case 'rename folder':
      return t`Renamed the folder “${name}” to “${to ?? ''}”`;
    case 'looks kept':
      return n
        ? plural(n, { one: 'Set # earlier look to be kept', other: 'Set # earlier looks to be kept' })
        : t`Set every earlier look to be kept`;
    case 'choose':
      return less
        ? [
            plural(n, { one: 'Kept # shot of a run', other: 'Kept # shots of a run' }),
            plural(less, { one: 'moved # to the bin', other: 'moved # to the bin' }),
          ].join(', ')
        : plural(n, { one: 'Kept # shot of a run', other: 'Kept all # shots of a run' });
    case 'merge doubles':
      return plural(n, {
        one: 'Kept one of two doubles and moved the other to the bin',
        other: 'Kept one picture and moved its # doubles to the bin',
      });
    case 'keep doubles':
      return plural(n, { one: 'Kept # double', other: 'Kept all # doubles' });
    case 'bin':
      return plural(all, { one: 'Moved # picture to the bin', other: 'Moved # pictures to the bin' });
    case 'restore':
      return plural(all, { one: 'Brought # picture back from the bin', other: 'Brought # pictures back from the bin' });
    case 'empty bin':
      return plural(n, {
        one: `Removed # picture for good: ${sayBytes(words.bytes ?? 0)} freed`,
        other: `Removed # pictures for good: ${sayBytes(words.bytes ?? 0)} freed`,
      });
    case 'bin days':
      return n
        ? plural(n, { one: 'Set the bin to keep pictures for # day', other: 'Set the bin to keep pictures for # days' })
        : t`Set the bin to keep everything until it is emptied`;
    case 'undo':
      return t`Undid something`;
  }
}
