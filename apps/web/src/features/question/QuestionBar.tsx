import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import {
  type Completion,
  type Condition,
  type Names,
  parse,
  phrase,
  type Question,
  topParts,
  toSentence,
} from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { isForPage } from '@/ui/keys';
import { Words } from '@/ui/Words';
import { useNames, useVocabulary } from './names';
import { words } from '@/words/said';

/** What typing may be completed to. */
const KINDS: Record<Completion['kind'], MessageDescriptor> = { person: msg`person`, tag: msg`tag`, place: msg`place` };

/** A part of a question in two pieces: the words that lead to it, and the chip. */
function pieces(part: Question, names: Names): { lead: string; value: string } {
  if ('not' in part && !('all' in part.not) && !('any' in part.not) && !('not' in part.not)) {
    const inner = phrase(part.not as Condition, names, words());
    return { lead: `${words().not} ${inner.lead}`, value: inner.value };
  }
  if ('all' in part || 'any' in part || 'not' in part) return { lead: '', value: toSentence(part, names, words()) };
  return phrase(part, names, words());
}

/** The question over Browse: what is asked as chips in a sentence, a line to ask for more, and how many pictures answer. */
export function QuestionBar() {
  const router = useRouter();
  const wide = useWide();
  const { question, narrow, widen, set } = useAsk();
  const [typed, setTyped] = useState('');
  const [focused, setFocused] = useState(false);
  const line = useRef<TextInput>(null);
  const vocabulary = useVocabulary();
  const names = useNames();
  const { data } = useAnswer('count', { body: { question } });
  const parts = 'all' in question && question.all.length === 0 ? [] : topParts(question);
  const { completions } = parse(typed, vocabulary, words());
  // A long question would fill half a phone: it is one line there, which opens.
  const [opened, setOpened] = useState(false);
  const folds = !wide && parts.length > 2;
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
  const ask = () => {
    if (!typed.trim()) return;
    narrow(parse(typed, vocabulary, words()).question);
    setTyped('');
  };
  const take = (completion: Completion) => {
    const before = typed.slice(0, typed.trimEnd().lastIndexOf(' ') + 1).trim();
    if (before) narrow(parse(before, vocabulary, words()).question);
    narrow(completion.question);
    setTyped('');
    line.current?.focus();
  };
  return (
    <View style={{ zIndex: 6 }}>
      <View className="min-h-field flex-row flex-wrap items-center gap-x-2 rounded-card border border-line bg-card px-3 py-1">
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
              <Chip label={value} on onAway={() => widen(i)} awayLabel={t`Remove: ${lead} ${value}`} />
            </View>
          );
        })}
        <TextInput
          ref={line}
          aria-label={t`Ask for people, places, days, tags`}
          placeholder={parts.length ? t`and …` : t`Ask for people, places, days, tags …`}
          value={typed}
          onChangeText={setTyped}
          onSubmitEditing={() =>
            completions[0] && typed.trim().split(' ').length === 1 && /^[@#-]/.test(typed)
              ? take(completions[0])
              : ask()
          }
          onFocus={() => setFocused(true)}
          onBlur={() => setTimeout(() => setFocused(false), 150)}
          autoCapitalize="none"
          className="min-h-touch min-w-24 flex-1 bg-transparent font-sans text-body text-ink"
          style={{ outlineStyle: 'none' } as object}
        />
        {parts.length && data ? (
          <Words className="font-bold text-small" aria-live="polite">
            {plural(data.count, { one: '# picture', other: '# pictures' })}
          </Words>
        ) : null}
        {folds && opened ? (
          <IconButton name="up" size={16} label={t`Fold the question`} onPress={() => setOpened(false)} />
        ) : null}
        {parts.length ? (
          <IconButton name="away" size={16} label={t`Show every picture`} onPress={() => set({ all: [] })} />
        ) : null}
        {parts.length && wide ? (
          <Button
            label={t`Make a smart album`}
            weight="plum"
            className="min-h-chip rounded-full py-1"
            onPress={() => router.push('/albums/new')}
          />
        ) : null}
      </View>
      {parts.length && !wide ? (
        <Pressable
          role="button"
          onPress={() => router.push('/albums/new')}
          className="min-h-touch justify-center self-start px-1"
        >
          <Words className="font-semi text-small text-plum">{t`Make a smart album of this`}</Words>
        </Pressable>
      ) : null}
      {focused && typed && completions.length ? (
        <View
          className="absolute left-0 right-0 top-full mt-1 overflow-hidden rounded-act border border-line bg-card"
          style={{ boxShadow: '0 8px 28px rgb(0 0 0 / 0.18)', zIndex: 8 }}
        >
          {completions.map((completion) => (
            <Pressable
              key={completion.insert}
              role="button"
              onPress={() => take(completion)}
              className="min-h-touch flex-row items-center justify-between gap-3 px-4 active:bg-mist"
            >
              <Words>{completion.label}</Words>
              <Words kind="small">{i18n._(KINDS[completion.kind])}</Words>
            </Pressable>
          ))}
        </View>
      ) : null}
    </View>
  );
}
