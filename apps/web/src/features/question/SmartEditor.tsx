import { plural, t } from '@lingui/core/macro';
import { normalise, type Question } from '@gemmel/core';
import { useRouter } from 'expo-router';
import type { BestLimit } from '@gemmel/contract';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useStrip } from '@/state/useStrip';
import { useAsk } from '@/state/ask';
import { act } from '@/state/acts';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Dial } from '@/ui/Dial';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Failed, Waiting } from '@/ui/State';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { toDraft, toQuestion, type Group } from './draft';
import { Sentences } from './Sentences';
import { SIZE } from '@/ui/tokens';
import { Thumbs } from './Thumbs';

/** A new smart album, beginning with what Browse is asking for. */
export function SmartEditorNew({ shelf = null }: { shelf?: number | null }) {
  const question = useAsk((ask) => ask.question);
  return <Editor id={null} name="" question={question} best={null} shelf={shelf} />;
}

/** The question of a smart album that is there. */
export function SmartEditorOf({ id }: { id: number }) {
  const { data, error, refetch } = useAnswer('album', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const { name, question, best, shelf } = data.album;
  return <Editor id={id} name={name} question={question ?? { all: [] }} best={best} shelf={shelf} />;
}

/** How many of the best an album may hold, to choose from. */
const LIMITS = [12, 24, 50, 100, 200] as const;

interface Asked {
  id: number | null;
  name: string;
  question: Question;
  best: BestLimit | null;
  shelf: number | null;
}

function Editor({ id, name: before, question: asked, best: limit, shelf }: Asked) {
  const router = useRouter();
  const wide = useWide();
  const [name, setName] = useState(before);
  const [draft, setDraft] = useState<Group>(() => toDraft(asked));
  const [best, setBest] = useState<BestLimit | null>(limit);
  const question = useMemo(() => normalise(toQuestion(draft)), [draft]);
  const { strip } = useStrip(question);
  const first = useMemo(() => Array.from(strip?.ids.subarray(0, wide ? 24 : 12) ?? []), [strip, wide]);
  const chosen = useAnswer(
    'bestOf',
    { body: { from: { question }, n: best?.n ?? 1, spread: best?.spread ?? 0.5, people: 0.5 } },
    { enabled: best !== null },
  ).data;
  const count = strip
    ? best
      ? Math.min(best.n, chosen?.pictures.length ?? best.n, strip.ids.length)
      : strip.ids.length
    : null;
  const shown = best && chosen ? chosen.pictures.slice(0, wide ? 24 : 12).map((one) => one.id) : first;
  const keep = async () => {
    if (id === null) {
      const made = await act(
        () => call('makeAlbum', { body: { name: name.trim(), question, best, shelf } }),
        t`“${name.trim()}” now fills itself`,
        'albums',
      );
      if (made) router.replace({ pathname: '/albums/[id]', params: { id: made.id } });
    } else {
      const changed = await act(
        () => call('changeAlbum', { params: { id }, body: { name: name.trim(), question, best } }),
        t`Smart album changed`,
        'albums',
      );
      if (changed) router.replace({ pathname: '/albums/[id]', params: { id } });
    }
  };
  return (
    <ScrollView
      style={{ flex: 1 }}
      contentContainerStyle={{
        padding: wide ? SIZE.brim : SIZE.edge,
        paddingBottom: 130,
        maxWidth: 900,
        width: '100%',
        gap: 14,
      }}
    >
      <View className="flex-row items-center justify-between">
        <Pressable
          role="button"
          onPress={() => (router.canGoBack() ? router.back() : router.navigate('/albums'))}
          className="min-h-touch justify-center"
        >
          <Words className="text-small text-soft">{`‹ ${t`Back`}`}</Words>
        </Pressable>
        <Button
          label={t`Save`}
          weight="plum"
          className="min-h-touch"
          disabled={!name.trim()}
          onPress={() => void keep()}
        />
      </View>
      <Words kind="title" className="text-title">
        {id === null ? t`A smart album` : before}
      </Words>
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        placeholder={t`Both sisters by the lake`}
        maxLength={160}
      />
      <View className="rounded-card border border-line bg-card px-4 pb-3 pt-1">
        <Sentences draft={draft} onChange={setDraft} />
      </View>
      <View className="gap-1 rounded-card border border-line bg-card px-4 py-3">
        <Switch
          label={t`No more than the best of these`}
          shown
          on={best !== null}
          onTurn={() => setBest(best ? null : { n: 50, spread: 0.6 })}
        />
        {best ? (
          <>
            <View className="flex-row flex-wrap items-center gap-x-2">
              {LIMITS.map((n) => (
                <Chip
                  key={n}
                  tone="plum"
                  label={sayNumber(n)}
                  on={best.n === n}
                  onPress={() => setBest({ ...best, n })}
                />
              ))}
            </View>
            <Dial
              label={t`How widely it is spread`}
              left={t`only the best`}
              right={t`something of everything`}
              value={best.spread}
              onChange={(spread) => setBest({ ...best, spread })}
            />
          </>
        ) : null}
      </View>
      <View>
        <Heading tone="rule">
          {count === null ? t`Counting …` : plural(count, { one: '# picture now', other: '# pictures now' })}
        </Heading>
        <Words className="mb-3 text-soft" aria-live="polite">
          {best && strip && strip.ids.length > best.n
            ? t`The best of ${sayNumber(strip.ids.length)} that fit. It follows every change by itself.`
            : t`It follows every change by itself.`}
        </Words>
        <Thumbs ids={shown} />
      </View>
    </ScrollView>
  );
}
