import type { GuestPicture } from '@gemmel/contract';
import { fromEdtf, sayWhenSpan, WORDS, type Language } from '@gemmel/core';
import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import { capital, sayLongDay } from '@/ui/say';

const language = (): Language => (i18n.locale in WORDS ? (i18n.locale as Language) : 'en');

/** A day as it stands over pictures: with its weekday, or as much as is known of it. */
export function sayGuestDay(day: string): string {
  if (/^\d{4}-\d{2}-\d{2}$/.test(day)) return capital(sayLongDay(day));
  const when = fromEdtf(day);
  return when ? capital(sayWhenSpan(when, WORDS[language()])) : day;
}

/** A picture in words, as far as the share tells: its title, who is in it, where; else which it is. */
export function sayPicture(picture: GuestPicture, at: number, of: number): string {
  const told = [picture.title, picture.names.join(', '), picture.town?.name].filter(Boolean).join(' · ');
  if (told) return told;
  return picture.kind === 'video' ? t`Clip ${at + 1} of ${of}` : t`Picture ${at + 1} of ${of}`;
}
