import { EVERYTHING, normalise, type Question } from '@gemmel/core';
import type { View as Seen } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { withEyes } from '@/api/eyes';
import { refresh, useAnswer } from '@/api/query';
import { toDraft, toQuestion, type Group } from '@/features/question/draft';
import { Sentences } from '@/features/question/Sentences';
import { say } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Failed, Page, Waiting } from '@/ui/State';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { Thumbs } from '../question/Thumbs';

/** What a relative sees, for the keeper to choose. */
export function ViewPage({ id }: { id: number }) {
  const member = useAnswer('members', {}).data?.members.find((one) => one.id === id);
  const { data, error, refetch } = useAnswer('view', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data || !member) return <Waiting />;
  return <Chooser key={JSON.stringify([data.question, data.reach])} id={id} name={member.name} seen={data} />;
}

function Chooser({ id, name, seen }: { id: number; name: string; seen: Seen }) {
  const router = useRouter();
  const wide = useWide();
  const [draft, setDraft] = useState<Group | null>(() => seen.question && toDraft(seen.question));
  const [reach, setReach] = useState(seen.reach);
  const [wrong, setWrong] = useState('');
  const question = useMemo<Question | null>(() => draft && normalise(toQuestion(draft)), [draft]);
  const { data: tried } = useAnswer(
    'tryView',
    { params: { id }, body: { question: question ?? EVERYTHING, reach } },
    { enabled: question !== null },
  );
  const same =
    JSON.stringify([question, reach]) === JSON.stringify([seen.question && normalise(seen.question), seen.reach]);
  const keep = async () => {
    setWrong('');
    try {
      await call('setView', { params: { id }, body: { question, reach } });
      refresh('view', 'members');
      say(question ? t`Saved. ${name} sees this from now on` : t`Saved. ${name} sees nothing from now on`);
      if (router.canGoBack()) router.back();
      else router.replace('/household');
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  const beyond = tried?.beyond;
  return (
    <Page title={t`What ${name} sees`} narrow>
      <View className="gap-4">
        <Words className="text-soft">{t`${name} sees the pictures you ask for here and nothing else: not in lists, not in counts, not in search. What they bring themselves they always see.`}</Words>
        {draft ? (
          <View className="rounded-card border border-line bg-card px-4 pb-3 pt-1">
            <Sentences draft={draft} onChange={setDraft} />
          </View>
        ) : (
          <View className="gap-2">
            <Words>{t`Nothing is chosen yet, so ${name} sees nothing.`}</Words>
            <View className="flex-row flex-wrap gap-x-2">
              <Chip icon="plus" label={t`Choose what they see`} onPress={() => setDraft(toDraft(EVERYTHING))} />
            </View>
          </View>
        )}
        {draft ? (
          <Switch
            shown
            on={reach === 'house'}
            label={t`Also pictures that are only for the house`}
            onTurn={() => setReach(reach === 'house' ? 'family' : 'house')}
          />
        ) : null}
        {draft && tried ? (
          <View>
            <Heading tone="rule">
              {plural(tried.pictures, {
                0: `${name} would see nothing`,
                one: `${name} would see # picture now`,
                other: `${name} would see # pictures now`,
              })}
            </Heading>
            <Words className="mb-3 text-soft" aria-live="polite">{t`It follows every change by itself.`}</Words>
            <Thumbs ids={tried.ids.slice(0, wide ? 18 : 9)} />
          </View>
        ) : null}
        {draft && beyond && beyond.pictures > 0 ? (
          <View>
            <Heading tone="rule">
              {plural(beyond.pictures, {
                one: '# more is only for the house',
                other: '# more are only for the house',
              })}
            </Heading>
            <Words className="mb-3 text-soft">{t`They’re asked for above, and stay unseen unless you switch them on or set them to be for the family.`}</Words>
            <Thumbs ids={beyond.ids.slice(0, wide ? 12 : 6)} />
          </View>
        ) : null}
        {wrong ? (
          <Words className="text-brick" role="alert">
            {wrong}
          </Words>
        ) : null}
        <View className="gap-2">
          <Button label={t`Save`} disabled={same} onPress={() => void keep()} />
          <Button
            label={t`See it as ${name} does`}
            weight="second"
            disabled={!same}
            onPress={() => window.open(withEyes('/arrivals', id), '_blank')}
          />
          {same ? null : <Words kind="small" className="text-center">{t`Save first, then see it as they do.`}</Words>}
          {draft ? <Button label={t`Show them nothing`} weight="quiet" onPress={() => setDraft(null)} /> : null}
        </View>
      </View>
    </Page>
  );
}
