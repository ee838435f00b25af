import { plural, t } from '@lingui/core/macro';
import type { Offered } from '@gemmel/contract';
import {
  EVERYTHING,
  isEverything,
  type Condition,
  type Names,
  phrase,
  type Question,
  topParts,
  toSentence,
  typedOf,
} from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useAsk, useRecent } from '@/state/ask';
import { useWide } from '@/state/wide';
import { useMe } from '@/features/account/session';
import { makeSomething } from '@/state/making';
import { Chip, IconButton } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { isForPage } from '@/ui/keys';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';
import { Completions, optionId } from './Completions';
import { useNames } from './names';
import { useTyped } from './useTyped';
import { lazily } from '@/ui/lazily';

const IntoAlbum = lazily(async () => (await import('../filing/IntoAlbum')).IntoAlbum);
const ShareSheet = lazily(async () => (await import('../share/ShareSheet')).ShareSheet);
const Show = lazily(async () => (await import('../show/Show')).Show);
const ChipSheet = lazily(async () => (await import('./ChipSheet')).ChipSheet);

/** A part of a question in two pieces: the words that lead to it, and the chip. */
function pieces(part: Question, names: Names): { lead: string; value: string } {
  if ('not' in part && !('all' in part.not) && !('any' in part.not) && !('not' in part.not)) {
    const inner = phrase(part.not as Condition, names, words());
    return { lead: `${words().not} ${inner.lead}`, value: inner.value };
  }
  if ('all' in part || 'any' in part || 'not' in part) return { lead: '', value: toSentence(part, names, words()) };
  return phrase(part, names, words());
}

/** The last questions, to be asked again. */
function Recent({ names, onTake }: { names: Names; onTake: (question: Question) => void }) {
  const questions = useRecent((recent) => recent.questions);
  if (questions.length === 0) return null;
  return (
    <View className="mt-2" role="list" aria-label={t`Asked lately`}>
      <Words kind="small" className="px-3">{t`Asked lately`}</Words>
      {questions.map((question) => (
        <Pressable
          key={JSON.stringify(question)}
          role="button"
          onPointerDown={(event) => event.preventDefault()}
          onPress={() => onTake(question)}
          className="min-h-touch justify-center border-b border-line px-3 active:bg-mist"
        >
          <Words numberOfLines={2}>{toSentence(question, names, words())}</Words>
        </Pressable>
      ))}
    </View>
  );
}

/**
 * The question over Browse: what is asked as chips in a sentence, a line to ask for more in plain words, how many pictures
 * answer. What is typed is asked as it is typed; below stands what its last words may be.
 */
export function QuestionBar() {
  const router = useRouter();
  const wide = useWide();
  const { question, set, widen } = useAsk();
  const note = useRecent((recent) => recent.note);
  const { typed, setTyped, asked, slow, settle } = useTyped();
  const [focused, setFocused] = useState(false);
  const leaving = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(leaving.current), []);
  const [at, setAt] = useState(-1);
  const [changing, setChanging] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  const [putting, setPutting] = useState(false);
  const [sharing, setSharing] = useState(false);
  const part = useMe().data?.member?.part;
  const helps = part !== 'relative';
  const keeper = part === 'keeper';
  const line = useRef<TextInput>(null);
  const parts = isEverything(question) ? [] : topParts(question);
  // Names are asked for when something is asked by name, or about to be.
  const names = useNames(parts.length > 0 || focused || typed !== '');
  const { data } = useAnswer('count', { body: { question } });
  const offered = (typed.trim() ? asked?.completions : undefined) ?? [];
  // A long question would fill half a phone: it is one line there, which opens.
  const [opened, setOpened] = useState(false);
  const folds = !wide && parts.length > 2 && !focused;
  const folded = folds && !opened;
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key !== '/' || !isForPage(event)) return;
      event.preventDefault();
      line.current?.focus();
    };
    document.addEventListener('keydown', key);
    return () => document.removeEventListener('keydown', key);
  }, []);
  const settled = (next: Question) => {
    set(next);
    setTyped('');
    setAt(-1);
    if (!isEverything(next)) note(next);
  };
  const ask = async () => {
    if (!typed.trim()) return;
    settled(await settle());
  };
  const take = (one: Offered) => {
    settled(one.question);
    line.current?.focus();
  };
  const press = (key: string): boolean => {
    if (key === 'ArrowDown' || key === 'ArrowUp') {
      if (offered.length === 0) return false;
      setAt((now) =>
        key === 'ArrowDown' ? (now + 1 >= offered.length ? -1 : now + 1) : now < 0 ? offered.length - 1 : now - 1,
      );
      return true;
    }
    if (key === 'Escape' && typed) {
      setTyped('');
      setAt(-1);
      return true;
    }
    const last = parts[parts.length - 1];
    if (key === 'Backspace' && !typed && last) {
      // The last part becomes text again, to be put right.
      widen(parts.length - 1);
      setTyped(typedOf(last, names, words()) ?? '');
      return true;
    }
    return false;
  };
  const shown = typed.trim() && asked ? asked.pictures : parts.length ? data?.count : undefined;
  const pin = () =>
    void act(
      () => call('makePin', { body: { name: toSentence(question, names, words()).slice(0, 120), question } }),
      t`Kept at hand`,
      'pins',
    );
  return (
    <View style={{ zIndex: 6 }}>
      <View
        className={`rounded-card border bg-card px-3 py-1 ${focused ? 'border-juniper' : 'border-line'}`}
        style={focused ? ({ boxShadow: '0 0 0 1px rgb(var(--juniper))' } as object) : undefined}
      >
        <View className="min-h-touch flex-row flex-wrap items-center gap-x-2">
          <Icon name="search" size={18} tone="soft" />
          {folded ? (
            <Pressable
              role="button"
              aria-expanded={false}
              aria-label={t`The whole question: ${toSentence(question, names, words())}`}
              onPress={() => setOpened(true)}
              className="min-h-touch min-w-0 flex-1 justify-center"
            >
              <Words numberOfLines={1}>{toSentence(question, names, words())}</Words>
            </Pressable>
          ) : null}
          {(folded ? [] : parts).map((part, i) => {
            const { lead, value } = pieces(part, names);
            return (
              <View key={JSON.stringify(part)} className="max-w-full flex-row items-center gap-1.5">
                {lead ? <Words className="text-body text-soft">{i ? `${words().and} ${lead}` : lead}</Words> : null}
                <Chip
                  label={value}
                  on
                  onPress={() => setChanging(i)}
                  onAway={() => widen(i)}
                  awayLabel={t`Remove: ${lead} ${value}`}
                />
              </View>
            );
          })}
          <TextInput
            ref={line}
            role={'combobox' as 'searchbox'}
            aria-label={t`Ask for people, places, days, tags`}
            aria-expanded={focused && offered.length > 0}
            {...({
              'aria-controls': 'asked',
              'aria-autocomplete': 'list',
              'aria-activedescendant': at >= 0 ? optionId(at) : undefined,
            } as object)}
            placeholder={parts.length ? t`and …` : t`Ask for people, places, days, tags …`}
            value={typed}
            onChangeText={(text) => {
              setTyped(text);
              setAt(-1);
            }}
            onKeyPress={(event) => {
              if (press(event.nativeEvent.key)) event.preventDefault();
            }}
            onSubmitEditing={() => {
              const one = offered[at];
              if (one) take(one);
              else void ask();
            }}
            onFocus={() => {
              clearTimeout(leaving.current);
              setFocused(true);
            }}
            // A touch on what is offered comes a moment after the line is left; whoever is back by then has not left.
            onBlur={() => {
              clearTimeout(leaving.current);
              leaving.current = setTimeout(() => setFocused(false), 150);
            }}
            autoCapitalize="none"
            autoCorrect={false}
            blurOnSubmit={false}
            className="min-h-touch min-w-24 flex-1 bg-transparent font-sans text-body text-ink"
            style={{ outlineStyle: 'none' } as object}
          />
          {folds && opened ? (
            <IconButton name="up" size={16} label={t`Fold the question`} onPress={() => setOpened(false)} />
          ) : null}
          {parts.length || typed ? (
            <IconButton
              name="away"
              size={16}
              label={t`Show every picture`}
              onPress={() => {
                set(EVERYTHING);
                setTyped('');
              }}
            />
          ) : null}
        </View>
        {shown !== undefined ? (
          <View className="min-h-8 flex-row flex-wrap items-center justify-between gap-x-4">
            <Words className="font-bold text-small" aria-live="polite">
              {slow && typed ? t`Searching …` : plural(shown, { one: '# picture', other: '# pictures' })}
            </Words>
            {parts.length && !typed ? (
              <View className="flex-row flex-wrap items-center gap-x-4">
                <Pressable role="button" onPress={pin} className="min-h-touch justify-center active:opacity-70">
                  <Words className="font-semi text-small text-juniper">{t`Keep at hand`}</Words>
                </Pressable>
                {shown ? (
                  <>
                    <Pressable
                      role="button"
                      onPress={() => setPlaying(true)}
                      className="min-h-touch justify-center active:opacity-70"
                    >
                      <Words className="font-semi text-small text-juniper">{t`Play`}</Words>
                    </Pressable>
                    <Pressable
                      role="button"
                      onPress={() => router.push({ pathname: '/albums/best', params: { asked: 1 } })}
                      className="min-h-touch justify-center active:opacity-70"
                    >
                      <Words className="font-semi text-small text-juniper">{t`The best of these`}</Words>
                    </Pressable>
                    {keeper ? (
                      <Pressable
                        role="button"
                        onPress={() => setSharing(true)}
                        className="min-h-touch justify-center active:opacity-70"
                      >
                        <Words className="font-semi text-small text-juniper">{t`Share`}</Words>
                      </Pressable>
                    ) : null}
                    {helps ? (
                      <Pressable
                        role="button"
                        onPress={() =>
                          makeSomething({
                            source: { question },
                            title: toSentence(question, names, words()).slice(0, 160),
                          })
                        }
                        className="min-h-touch justify-center active:opacity-70"
                      >
                        <Words className="font-semi text-small text-juniper">{t`Make something`}</Words>
                      </Pressable>
                    ) : null}
                    {helps ? (
                      <Pressable
                        role="button"
                        onPress={() => setPutting(true)}
                        className="min-h-touch justify-center active:opacity-70"
                      >
                        <Words className="font-semi text-small text-juniper">{t`Into an album`}</Words>
                      </Pressable>
                    ) : null}
                  </>
                ) : null}
                <Pressable
                  role="button"
                  onPress={() => router.push('/albums/new')}
                  className="min-h-touch justify-center active:opacity-70"
                >
                  <Words className="font-semi text-small text-plum">{t`Make a smart album`}</Words>
                </Pressable>
              </View>
            ) : null}
          </View>
        ) : null}
      </View>
      {focused && offered.length ? <Completions offered={offered} typed={typed} at={at} onTake={take} /> : null}
      {focused && !typed && parts.length === 0 ? <Recent names={names} onTake={settled} /> : null}
      {sharing ? (
        <ShareSheet
          what={{ question }}
          title={toSentence(question, names, words())}
          onClose={() => setSharing(false)}
        />
      ) : null}
      {putting ? <IntoAlbum from={{ question }} count={shown ?? 0} onClose={() => setPutting(false)} /> : null}
      {playing ? (
        <Show source={{ question }} title={toSentence(question, names, words())} onClose={() => setPlaying(false)} />
      ) : null}
      {changing !== null && parts[changing] ? (
        <ChipSheet part={parts[changing]} index={changing} names={names} onClose={() => setChanging(null)} />
      ) : null}
    </View>
  );
}
