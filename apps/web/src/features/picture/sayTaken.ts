import type { Picture } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { capital, sayMoment } from '@/ui/say';
import { sayRemembered } from '@/words/said';

/** The time in words: a moment, or as much as is known. */
export function sayTaken({ taken, takenSpan }: Picture): string {
  if (!takenSpan && !taken) return t`No date`;
  return capital(takenSpan ? sayRemembered(takenSpan) : sayMoment(taken!));
}
