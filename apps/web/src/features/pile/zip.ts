import { plural } from '@lingui/core/macro';
import type { Api, CallInput } from '@gemmel/contract';
import { call } from '@/api/client';
import { inLibrary } from '@/api/library';
import { say, trouble } from '@/state/toast';
import { sayBytes } from '@/ui/say';

/** Has the browser save what is at an address. */
export function saveFile(path: string): void {
  const link = document.createElement('a');
  link.href = path;
  link.download = '';
  document.body.append(link);
  link.click();
  link.remove();
}

/** Has the originals of some pictures, an album or an event saved as one ZIP. The browser shows how far it is. */
export async function saveZip(what: CallInput<Api['makeZip']>['body']): Promise<void> {
  try {
    const { path, pictures, bytes } = await call('makeZip', { body: what });
    saveFile(inLibrary(path));
    say(
      plural(pictures, {
        one: `Saving # original as a ZIP, ${sayBytes(bytes)}`,
        other: `Saving # originals as a ZIP, ${sayBytes(bytes)}`,
      }),
    );
  } catch (error) {
    trouble(error);
  }
}
