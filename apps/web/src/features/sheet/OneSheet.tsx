import { plural, t } from '@lingui/core/macro';
import type { FaceMark, Picture } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Empty, Page } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { sayPlace } from '@/words/said';
import { sayTaken } from '../picture/sayTaken';
import { FaceSheet } from '../picture/FaceSheet';
import { Line } from '../picture/Line';
import { give } from '../place/acts';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';

/** How many pictures are written about at once; more come when these are done. */
const AT_ONCE = 30;

/** Dates one or several pictures in people's own words. */
const dateAs = (ids: readonly number[], words: string) =>
  act(
    () => call('mendDates', { body: { ids: [...ids], how: { set: words } } }),
    plural(ids.length, { one: 'Date changed', other: 'Dates of # pictures changed' }),
    'pictures',
    'events',
  );

/**
 * When, where and who, of many pictures on one sheet: each has a line, and what is the same for all of them, or as in the line above,
 * is said once.
 */
export function OneSheet({ ids }: { ids: readonly number[] }) {
  const router = useRouter();
  const [all, setAll] = useState<'dates' | 'place' | null>(null);
  const [shown, setShown] = useState(AT_ONCE);
  const some = ids.slice(0, shown);
  return (
    <Page>
      <View className="-ml-3 flex-row items-center pt-2">
        <IconButton
          name="left"
          label={t`Back`}
          onPress={() => (router.canGoBack() ? router.back() : router.replace('/browse'))}
        />
        <Words kind="small">{plural(ids.length, { one: '# picture', other: '# pictures' })}</Words>
      </View>
      <Words kind="title">{t`When, where and who`}</Words>
      {ids.length === 0 ? (
        <Empty title={t`No pictures chosen`} text={t`Choose some pictures, and open this sheet from their menu.`} />
      ) : (
        <>
          <View className="my-2 flex-row flex-wrap items-center gap-x-4">
            <Words kind="small">{t`The same for all of them:`}</Words>
            <Button label={t`Date`} icon="clock" weight="quiet" className="px-0" onPress={() => setAll('dates')} />
            <Button label={t`Place`} icon="place" weight="quiet" className="px-0" onPress={() => setAll('place')} />
          </View>
          {some.map((id, i) => (
            <Row key={id} id={id} above={some[i - 1] ?? null} />
          ))}
          {shown < ids.length ? (
            <Button
              className="my-3 self-start"
              weight="second"
              label={plural(Math.min(AT_ONCE, ids.length - shown), {
                one: 'Show # more picture',
                other: 'Show # more pictures',
              })}
              onPress={() => setShown(shown + AT_ONCE)}
            />
          ) : null}
        </>
      )}
      {all === 'dates' ? <DatesSheet ids={ids} onClose={() => setAll(null)} /> : null}
      {all === 'place' ? <PlaceSheet ids={ids} position={null} onClose={() => setAll(null)} /> : null}
    </Page>
  );
}

/** One picture of the sheet. `above` is the one in the line above, from which date and place may be taken. */
function Row({ id, above }: { id: number; above: number | null }) {
  const wide = useWide();
  const { data: picture } = useAnswer('picture', { params: { id } });
  const before = useAnswer('picture', { params: { id: above ?? id } }).data;
  const [placing, setPlacing] = useState(false);
  const [face, setFace] = useState<FaceMark | null>(null);
  const size = wide ? SIZE.tileWide : SIZE.tile;
  if (!picture) return <View style={{ height: size }} className="border-t border-line" />;
  const place = sayPlace(picture) ?? (picture.position ? t`A spot on the map` : null);
  const faces = picture.faces.filter((one) => one.state !== 'passer-by');
  return (
    <View className="flex-row gap-4 border-t border-line py-3">
      <Link
        href={{ pathname: '/picture/[id]', params: { id } }}
        aria-label={picture.name}
        style={{ width: size, alignSelf: 'flex-start' }}
      >
        <img
          src={smallOf(picture.sha)}
          alt=""
          loading="lazy"
          style={{
            width: size,
            maxHeight: size * 1.4,
            aspectRatio: String(picture.width / picture.height),
            objectFit: 'cover',
            borderRadius: CORNER.picture,
            background: 'rgb(var(--line))',
          }}
        />
      </Link>
      <View className="min-w-0 flex-1">
        <Line
          label={t`Date`}
          value={picture.taken ? sayTaken(picture) : null}
          placeholder={t`When? “summer 1962” …`}
          onSave={(words) => words && void dateAs([id], words)}
        />
        <Pressable role="button" onPress={() => setPlacing(true)} className="min-h-touch justify-center">
          <Words className={place ? '' : 'text-soft'}>{place ?? t`Where?`}</Words>
        </Pressable>
        {above !== null && before ? <AsAbove picture={picture} before={before} /> : null}
        {faces.length ? (
          <View className="mt-1 flex-row flex-wrap gap-2" role="group" aria-label={t`Faces`}>
            {faces.map((one) => (
              <Pressable
                key={one.id}
                role="button"
                aria-label={one.person?.name ?? t`A face without a name`}
                onPress={() => setFace(one)}
                className="items-center"
                style={{ width: SIZE.strip }}
              >
                <Cameo face={one.id} width={SIZE.button} />
                <Words
                  kind="tiny"
                  numberOfLines={2}
                  className={`text-center ${one.person ? 'text-ink' : 'font-semi text-marigold'}`}
                >
                  {one.person?.name ?? (one.likely ? t`${one.likely.name}?` : t`Who?`)}
                </Words>
              </Pressable>
            ))}
          </View>
        ) : null}
      </View>
      {placing ? <PlaceSheet ids={[id]} position={picture.position} onClose={() => setPlacing(false)} /> : null}
      {face ? <FaceSheet face={face} onClose={() => setFace(null)} /> : null}
    </View>
  );
}

/** Takes date and place from the line above, as far as they differ. */
function AsAbove({ picture, before }: { picture: Picture; before: Picture }) {
  const { id } = picture;
  const date = before.taken !== null && sayTaken(before) !== (picture.taken ? sayTaken(picture) : '');
  const spot = before.position;
  const place = spot !== null && (spot.lat !== picture.position?.lat || spot.lon !== picture.position?.lon);
  if (!date && !place) return null;
  return (
    <View className="flex-row flex-wrap gap-x-4">
      {date ? (
        <Button
          label={t`Date as above`}
          weight="quiet"
          className="min-h-touch px-0"
          onPress={() => void dateAs([id], before.takenSpan ? sayTaken(before) : before.taken!)}
        />
      ) : null}
      {place ? (
        <Button
          label={t`Place as above`}
          weight="quiet"
          className="min-h-touch px-0"
          onPress={() => void give([id], spot, sayPlace(before), 'copied')}
        />
      ) : null}
    </View>
  );
}
