import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { VaultLayout as Layout } from '@gemmel/core';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Heading } from '@/ui/DoubleBar';
import { sayLeft, sayNumber, sayShare } from '@/ui/say';
import { Words } from '@/ui/Words';

const NAMES: Record<Layout, MessageDescriptor> = {
  'year/event': msg`One folder per year, with one per day or event in it`,
  'year/month/event': msg`One folder per year and month, with days and events in it`,
  event: msg`Days and events side by side`,
  'year/month': msg`One folder per year, with one per month in it`,
};

/** How the originals lie on disk, and how far a change of it is. */
export function VaultLayout() {
  const me = useMe().data;
  const { data } = useAnswer('vaultLayout', {});
  if (!data) return null;
  const keeper = me?.member?.part === 'keeper';
  const choose = async (layout: Layout) => {
    if (layout === data.layout) return;
    await act(
      () => call('setVaultLayout', { body: { layout } }),
      [t`Originals are being rearranged`, t`This happens in the background. Nothing is lost on the way.`],
      'filing',
    );
  };
  return (
    <View>
      <Heading>{t`Where originals are kept`}</Heading>
      <div role="radiogroup" aria-label={t`How folders are arranged`}>
        {data.examples.map(({ layout, example }) => {
          const on = layout === data.layout;
          return (
            <Pressable
              key={layout}
              role="radio"
              aria-checked={on}
              disabled={!keeper}
              onPress={() => void choose(layout)}
              className="min-h-14 flex-row items-center gap-3 border-t border-line py-2"
            >
              <View
                className={`h-5 w-5 items-center justify-center rounded-full border-2 ${on ? 'border-juniper' : 'border-soft'}`}
              >
                {on ? <View className="h-2.5 w-2.5 rounded-full bg-juniper" /> : null}
              </View>
              <View className="min-w-0 flex-1">
                <Words className={on ? 'font-semi' : ''}>{i18n._(NAMES[layout])}</Words>
                <Words kind="small">{example}</Words>
              </View>
            </Pressable>
          );
        })}
      </div>
      <FilingLine />
    </View>
  );
}

/** How far originals are on their way to other folders; nothing while they lie where they belong. */
export function FilingLine() {
  const moving = useAnswer('vaultLayout', {}).data?.moving;
  if (!moving) return null;
  return (
    <Words kind="small" aria-live="polite" className="pt-2">
      {[
        t`Moving originals to their folders: ${sayNumber(moving.done)} of ${sayNumber(moving.of)}, ${sayShare(moving.done / moving.of)}`,
        moving.secondsLeft === null ? '' : t`${sayLeft(moving.secondsLeft)} left`,
      ]
        .filter(Boolean)
        .join(', ')}
    </Words>
  );
}
