import { t } from '@lingui/core/macro';
import { say } from './toast';

/** Copies the whole address of a page of ours. */
export async function copyLink(path: string): Promise<void> {
  const link = new URL(path, location.href).href;
  try {
    await navigator.clipboard.writeText(link);
    say(t`Link copied`);
  } catch {
    say(t`This browser won’t let us copy. The link: ${link}`);
  }
}
