import type { Act } from '@gemmel/contract';
import { sayDay } from '@gemmel/core';
import { count } from '@/ui/say';

/** An event by its name, or by the day it begins on. */
const event = (name = ''): string => (/^\d{4}-\d\d-\d\d$/.test(name) ? `the event of ${sayDay(name)}` : `“${name}”`);
const list = (words: readonly string[]): string =>
  words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] ?? '');
const quoted = (words: readonly string[] = []): string => list(words.map((word) => `“${word}”`));

const ANSWERS: Record<string, (n: string) => string> = {
  later: (n) => `put ${n} off until later`,
  'not them': (n) => `said that ${n} ${n.startsWith('1 ') ? 'is' : 'are'} somebody else`,
  'passer-by': (n) => `left ${n} as ${n.startsWith('1 ') ? 'a passer-by' : 'passers-by'}`,
  'not a face': (n) => `said that ${n} ${n.startsWith('1 ') ? 'is none' : 'are none'}`,
};
const LAYOUT = 'laid the folders of originals out anew';

/** What was done, as it reads after the name of whoever did it: “gave 4 stars to 12 pictures”. */
export function actWords({ kind, words, pictures }: Pick<Act, 'kind' | 'words' | 'pictures'>): string {
  const { name = '', to = null, n = 0, less = 0, rating, favourite, what = [] } = words;
  const all = count(pictures, 'picture');
  switch (kind) {
    case 'say': {
      const said = [
        ...(rating === undefined
          ? []
          : [rating ? `gave ${count(rating, 'star')} to ${all}` : `took the stars off ${all}`]),
        ...(favourite === undefined ? [] : [favourite ? `gave ${all} a heart` : `took the heart off ${all}`]),
        ...(what.length ? [`changed the ${list(what)} of ${all}`] : []),
      ];
      return list(said) || `said something about ${all}`;
    }
    case 'tag':
      return `tagged ${all} ${quoted(what)}`;
    case 'untag':
      return `took the tag ${quoted(what)} off ${all}`;
    case 'date':
      return to ? `dated ${all} ${/\d/.test(to) ? `“${to}”` : to}` : `mended the dates of ${all}`;
    case 'place':
      return what.includes('none')
        ? `took the place off ${all}`
        : to
          ? `put ${all} in ${to}`
          : `gave ${all} ${pictures === 1 ? 'its place' : 'their places'}`;
    case 'number':
      return `numbered ${count(pictures, 'file')}, the first “${to ?? name}”`;
    case 'settle':
      return to === 'kept' ? `kept the ${list(what)} of ${all} as it stood` : `took over the ${list(what)} of ${all}`;
    case 'name event':
      return to ? `called ${event(name)} “${to}”` : `took the name off ${event(name)}`;
    case 'split event':
      return `split ${event(name)}: ${count(n, 'picture')} became an event of their own`;
    case 'join events':
      return `joined ${event(name)} to ${event(to ?? '')}`;
    case 'move to event':
      return to ? `moved ${count(n, 'picture')} to ${event(to)}` : `took ${count(n, 'picture')} out of their event`;
    case 'make event':
      return name ? `made the event ${event(name)}` : `made an event of ${all}`;
    case 'remove event':
      return `removed ${event(name)} as an event`;
    case 'change event':
      return `set the ${list(what.map((one) => (one === 'span' ? 'days' : one)))} of ${event(name)}`;
    case 'answer faces':
      return (ANSWERS[to ?? ''] ?? ((faces) => `filed ${faces} under ${to}`))(count(n, 'face'));
    case 'draw face':
      return to ? `marked a face and filed it under ${to}` : 'marked a face';
    case 'change person':
      return what.length === 1 && favourite !== undefined
        ? favourite
          ? `made ${name} a favourite`
          : `took ${name} off the favourites`
        : to && to !== name
          ? `renamed ${name} to ${to}`
          : what.length === 1 && what[0] === 'portrait'
            ? `chose a portrait of ${name}`
            : `changed what is known of ${name}`;
    case 'join people':
      return `joined ${name} with ${to}`;
    case 'forget person':
      return `took the name ${name} away`;
    case 'make circle':
      return `made the circle “${name}”`;
    case 'change circle':
      return to && to !== name ? `renamed the circle “${name}” to “${to}”` : `changed the circle “${name}”`;
    case 'remove circle':
      return `removed the circle “${name}”`;
    case 'make album':
      return `made the ${what.includes('smart') ? 'smart album' : 'album'} “${name}”`;
    case 'make albums':
      return `made ${count(n, 'album')}, one for each folder of “${name}”`;
    case 'decline album':
      return `made no album of “${name}”`;
    case 'change album':
      return to && to !== name ? `renamed the album “${name}” to “${to}”` : `changed the album “${name}”`;
    case 'fill album':
      return `put ${count(n, 'picture')} into “${name}”`;
    case 'take out of album':
      return `took ${count(n, 'picture')} out of “${name}”`;
    case 'order album':
      return `put “${name}” into another order`;
    case 'remove album':
      return `removed the album “${name}”`;
    case 'mend clock':
      return `put the clock of ${name} right in ${all}`;
    case 'keep clock':
      return `said that the clock of ${name} is right`;
    case 'make place':
      return `named a place “${name}”`;
    case 'change place':
      return to && to !== name ? `renamed the place “${name}” to “${to}”` : `changed the place “${name}”`;
    case 'remove place':
      return `removed the place “${name}”`;
    case 'settle gaps':
      return `stopped waiting for ${n === 1 ? 'missing numbers' : count(n, 'gap')} of ${name}`;
    case 'name device':
      return `called ${name} “${to}”`;
    case 'change source':
      return what.includes('removed')
        ? `took ${name} off the list`
        : what.includes('putOff')
          ? `put ${name} off`
          : `called ${name} “${to}”`;
    case 'open share':
      return `opened the share “${name}”`;
    case 'close share':
      return `closed the share “${name}”`;
    case 'reopen share':
      return `opened the share “${name}” again`;
    case 'sureness':
      return 'changed how sure recognition must be';
    case 'file':
      return list([
        ...(n ? [`filed ${count(n, 'face')} by itself`] : []),
        ...(less ? [`let ${count(less, 'face')} wait for your word again`] : []),
      ]);
    case 'layout':
      return LAYOUT;
    case 'recognition':
      return `switched recognition ${favourite ? 'on' : 'off'}`;
    case 'recognise person':
      return favourite ? `had ${name} recognised again` : `had ${name} no longer recognised`;
    case 'undo':
      return 'took something back';
  }
}
