import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Offered } from '@gemmel/contract';
import { fold, startOfWord } from '@gemmel/core';
import { Pressable, View } from 'react-native';
import { sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';

/** What each kind of thing is, behind its name. */
const KINDS: Record<Exclude<Offered['kind'], 'word' | 'stars'>, MessageDescriptor> = {
  person: msg`a person`,
  tag: msg`a tag`,
  own: msg`a place of yours`,
  place: msg`a place`,
  event: msg`an event`,
  album: msg`an album`,
  mark: msg`a mark`,
  folder: msg`a folder`,
  device: msg`a device`,
  batch: msg`a batch`,
  camera: msg`a camera`,
  lens: msg`a lens`,
  member: msg`who said something`,
  observed: msg`noticed in the picture`,
};

/** The number of the option's element. */
export const optionId = (i: number): string => `asked-${i}`;

/** The begun part of a name is underlined twice, as what is chosen is elsewhere. */
function Begun({ label, typed }: { label: string; typed: string }) {
  const last = fold(typed.replace(/^[-@#]+/, ''));
  const words = last.split(' ');
  // The longest end of what is typed that the name, or one of its words, begins with.
  for (let n = 0; n < words.length; n++) {
    const start = words
      .slice(n)
      .join(' ')
      .replace(/^[-@#]+/, '');
    const name = fold(label);
    const from = start ? startOfWord(name, start) : -1;
    if (from < 0 || name.length !== label.length) continue;
    return (
      <>
        {label.slice(0, from)}
        <span style={{ borderBottom: '4px double rgb(var(--juniper))' }}>{label.slice(from, from + start.length)}</span>
        {label.slice(from + start.length)}
      </>
    );
  }
  return <>{label}</>;
}

function hintOf({ kind, hint }: Offered): string {
  if (kind === 'word' || kind === 'stars') return '';
  const what = i18n._(KINDS[kind]);
  return hint ? `${what}, ${hint}` : what;
}

/** What the last words may be: names in words, with what kind of thing each is, and how many pictures there would be. */
export function Completions({
  offered,
  typed,
  at,
  onTake,
}: {
  offered: readonly Offered[];
  typed: string;
  /** The one the keys stand on; -1 for none. */
  at: number;
  onTake: (one: Offered) => void;
}) {
  return (
    <View role={'listbox' as 'list'} nativeID="asked" aria-label={t`What it may be`} className="mt-2">
      {offered.map((one, i) => {
        const n = plural(one.pictures, { one: '# picture', other: '# pictures' });
        const hint = hintOf(one);
        return (
          <Pressable
            key={JSON.stringify([one.kind, one.question, one.label])}
            role={'option' as 'menuitem'}
            nativeID={optionId(i)}
            aria-selected={i === at}
            aria-label={
              one.kind === 'word'
                ? t`Search for “${one.label}”, ${n}`
                : one.kind === 'stars'
                  ? t`${one.label} stars or better, ${n}`
                  : `${one.label}, ${hint}, ${n}`
            }
            // The line keeps its focus, so that typing goes on.
            onPointerDown={(event) => event.preventDefault()}
            onPress={() => onTake(one)}
            className={`min-h-button flex-row items-center justify-between gap-3 rounded-act px-3 ${i === at ? 'bg-mist' : 'border-b border-line'} active:bg-mist`}
          >
            <Words className="min-w-0 shrink" numberOfLines={2}>
              {one.kind === 'word' ? (
                <Words className="text-soft">
                  {t`Search for the word`} <Words className="text-ink">{one.label}</Words>
                </Words>
              ) : one.kind === 'stars' ? (
                <Words kind="strong">
                  {plural(Number(one.label), { one: '# star or better', other: '# stars or better' })}
                </Words>
              ) : (
                <>
                  <Words kind="strong">
                    <Begun label={one.label} typed={typed} />
                  </Words>
                  <Words className="text-soft">{`  ${hint}`}</Words>
                </>
              )}
            </Words>
            <Words className="text-soft" style={{ fontVariant: ['tabular-nums'] }}>
              {sayNumber(one.pictures)}
            </Words>
          </Pressable>
        );
      })}
    </View>
  );
}
