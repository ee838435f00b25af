import type {
  Answer,
  Api,
  ExportResult,
  LibraryLine,
  MoveResult,
  OpenResult,
  RepairResult,
  SplitState,
  TidyResult,
} from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { sayBytes, sayLeft, sayList, sayNumber, sayShare, sayWhen } from '@/ui/say';

/** Keeping house: how each piece of work stands. */
export type Keeping = Answer<Api['keeping']>;
type Work = NonNullable<Keeping['repair' | 'tidy' | 'export' | 'open' | 'move']>;

/** How far work is: n of m, per cent, time left. Bytes where it copies. */
export function sayFar(
  { state, done, of, since }: Pick<Work, 'state' | 'done' | 'of' | 'since'>,
  bytes = false,
  now = Date.now(),
): string {
  if (state === 'ready') return t`Waiting for its turn`;
  if (!of) return t`Working …`;
  const say = bytes ? sayBytes : sayNumber;
  const pace = since !== null && done > 0 ? (now - since) / done : null;
  return [
    t`${say(done)} of ${say(of)}, ${sayShare(done / of)}`,
    pace === null ? '' : t`${sayLeft(((of - done) * pace) / 1000)} left`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** What came of checking. */
export function sayRepair(result: RepairResult): string {
  const { files, mended, taken, rewritten, gone, at } = result;
  const whole = files - gone;
  return [
    t`Checked on ${sayWhen(at)}: ${sayNumber(whole)} of ${sayNumber(files)} files are where they should be.`,
    mended
      ? plural(mended, {
          one: '# was brought back from a second copy.',
          other: '# were brought back from a second copy.',
        })
      : '',
    taken
      ? plural(taken, {
          one: '# that nobody knew is being brought in.',
          other: '# that nobody knew are being brought in.',
        })
      : '',
    rewritten
      ? plural(rewritten, {
          one: 'What was said of # picture is written beside it again.',
          other: 'What was said of # pictures is written beside them again.',
        })
      : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** What tidying freed. */
export function sayTidy({ derived, left, database, at }: TidyResult): string {
  const bytes = derived.bytes + left.bytes + database;
  return bytes
    ? t`Tidied on ${sayWhen(at)}: ${sayBytes(bytes)} freed.`
    : t`Tidied on ${sayWhen(at)}: there was nothing to remove.`;
}

/** What came of copying a library out. */
export function sayExport({ files, bytes, to, at }: ExportResult): string {
  const [when, size] = [sayWhen(at), sayBytes(bytes)];
  return plural(files, {
    one: `Copied into ${to} on ${when}: # file, ${size}.`,
    other: `Copied into ${to} on ${when}: # files, ${size}.`,
  });
}

/** What came of opening one. */
export function sayOpened({ name, pictures, at }: OpenResult): string {
  const when = sayWhen(at);
  return plural(pictures, {
    one: `“${name}” was opened on ${when}, with # picture.`,
    other: `“${name}” was opened on ${when}, with # pictures.`,
  });
}

/** What came of moving originals. */
export function sayMoved({ files, bytes, at }: MoveResult): string {
  const [when, size] = [sayWhen(at), sayBytes(bytes)];
  return plural(files, { one: `Moved on ${when}: # file, ${size}.`, other: `Moved on ${when}: # files, ${size}.` });
}

/** How far pictures are that go to another library. */
export function saySplit({ to, state, pictures, arrived, leftHere }: SplitState): string {
  if (state === 'stopped') return t`Going to “${to}”: stopped. Everything is still here.`;
  if (state !== 'done') return t`Going to “${to}”: ${sayNumber(arrived)} of ${sayNumber(pictures)} are there`;
  const went = pictures - leftHere;
  return [
    plural(went, { one: `# picture went to “${to}”.`, other: `# pictures went to “${to}”.` }),
    leftHere
      ? plural(leftHere, { one: '# couldn’t, and is still here.', other: '# couldn’t, and are still here.' })
      : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** Who may open a library. */
export function sayPeople({ people }: LibraryLine): string {
  const names = people.map(({ name }) => name);
  const shown = names.slice(0, 3);
  const more = names.length - shown.length;
  return sayList(more ? [...shown, plural(more, { one: '# more', other: '# more' })] : shown);
}
