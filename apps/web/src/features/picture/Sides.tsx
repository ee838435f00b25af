import { t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { Link } from 'expo-router';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { change } from '@/features/said/acts';
import { pairUp } from '@/features/scan/acts';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { capital } from '@/ui/say';
import { SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { sayRemembered } from '@/words/said';
import { Fact } from '@/ui/Fact';
import { StripImage } from './StripImage';

/** The other side of the print a picture is of, and what was read on the back, offered as caption and date. */
export function Sides({ picture }: { picture: Picture }) {
  const helps = useMe().data?.member?.part !== 'relative';
  const { pair } = picture;
  if (!pair) return null;
  const front = pair.front ? pair.id : picture.id;
  const back = pair.front ? picture.id : pair.id;
  const said = pair.written?.replace(/\s*\n\s*/g, ', ') ?? null;
  const dateBoth = () =>
    act(
      () => call('mendDates', { body: { ids: [front, back], how: { set: pair.datedAs! } } }),
      t`Date taken from the back`,
      'pictures',
      'events',
    );
  return (
    <Fact title={pair.front ? t`The back of a print` : t`Its back`}>
      <Link
        href={{ pathname: '/picture/[id]', params: { id: pair.id } }}
        aria-label={t`Turn it over: ${pair.name}`}
        style={{ display: 'flex', alignItems: 'center', gap: SIZE.edge, minHeight: SIZE.touch }}
      >
        <StripImage sha={pair.sha} shape={pair.shape} />
        <Words className="font-semi text-juniper">{pair.front ? t`See its front` : t`Turn it over`}</Words>
      </Link>
      {said ? (
        <Words selectable numberOfLines={6}>
          <Words kind="small">{t`Read on the back:`}</Words> {said}
        </Words>
      ) : null}
      {helps ? (
        <View className="flex-row flex-wrap gap-x-4">
          {said && picture.caption !== said ? (
            <Button
              label={t`Use it as the caption`}
              weight="quiet"
              className="px-0"
              onPress={() =>
                void change([front, back], { caption: said.slice(0, 2000) }, t`Caption taken from the back`)
              }
            />
          ) : null}
          {pair.dated ? (
            <Button
              label={t`Use ${capital(sayRemembered(pair.dated))} as the date`}
              weight="quiet"
              className="px-0"
              onPress={() => void dateBoth()}
            />
          ) : null}
          <Button
            label={t`The other way round`}
            weight="quiet"
            className="px-0"
            onPress={() => void pairUp([{ front: back, back: front }], true)}
          />
          <Button
            label={t`Not the same print`}
            weight="quiet"
            className="px-0"
            onPress={() => void pairUp([{ front, back }], false)}
          />
        </View>
      ) : null}
    </Fact>
  );
}
