import { plural, t } from '@lingui/core/macro';
import type { From } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { useTiles } from '@/state/tiles';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Dial } from '@/ui/Dial';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { tileLabel } from '@/words/said';
import { sayBest } from './bestWords';
import { Way } from './Albums';

/** How many pictures a selection may have, to choose from. */
const SIZES = [12, 24, 50, 100] as const;
/** How long the dials rest before a new proposal is asked for, in ms. */
const REST = 250;

/** What the best is to be of, with what a plain album of it is called. */
interface Of {
  key: string;
  name: string;
  from: From;
}

const year = (y: number): Question => ({ taken: { from: `${y}-01-01`, to: `${y}-12-31` } });

/** Proposes a selection: of a year, a person, an event, an album or what was asked for. Nothing is made before it is kept. */
export function BestPage() {
  const router = useRouter();
  const params = useLocalSearchParams<{ album?: string; event?: string; person?: string; asked?: string }>();
  const asked = useAsk((state) => state.question);
  const albums = useAnswer('albums', {}).data?.albums;
  const events = useAnswer('events', {}, { enabled: params.event !== undefined }).data?.events;
  const people = useAnswer('people', {}).data?.people;
  const days = useAnswer('skeleton', { body: { question: { all: [] } } }).data?.days;
  const years = useMemo(
    () => [...new Set((days ?? []).flatMap(([day]) => (day ? [Number(day.slice(0, 4))] : [])))].sort((a, b) => b - a),
    [days],
  );
  const given = useMemo((): Of | null => {
    const named = (list: readonly { id: number; name: string }[] | undefined, id: string) =>
      list?.find((one) => one.id === Number(id))?.name ?? '';
    if (params.album) return { key: 'given', name: named(albums, params.album), from: { album: Number(params.album) } };
    if (params.person)
      return { key: 'given', name: named(people, params.person), from: { person: Number(params.person) } };
    if (params.event) {
      const title = events?.find((one) => one.id === Number(params.event))?.title;
      return { key: 'given', name: title ?? t`An event`, from: { event: Number(params.event) } };
    }
    if (params.asked) return { key: 'given', name: t`What you asked for`, from: { question: asked } };
    return null;
  }, [params, albums, people, events, asked]);
  const [chosen, setChosen] = useState<Of | null>(null);
  const of: Of | null =
    chosen ??
    given ??
    (years[0] ? { key: `year ${years[0]}`, name: String(years[0]), from: { question: year(years[0]) } } : null);
  const [n, setN] = useState<number>(24);
  const [spread, setSpread] = useState(0.6);
  const [lean, setLean] = useState(0.5);
  const [wish, setWish] = useState({ spread, people: lean });
  useEffect(() => {
    const timer = setTimeout(() => setWish({ spread, people: lean }), REST);
    return () => clearTimeout(timer);
  }, [spread, lean]);
  const { data, error, refetch, isFetching } = useAnswer(
    'bestOf',
    { body: { from: of?.from ?? { ids: [1] }, n, ...wish } },
    { enabled: of !== null },
  );
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const pictures = useMemo(() => (data?.pictures ?? []).filter(({ id }) => !without.has(id)), [data, without]);
  const tiles = useTiles(pictures.map(({ id }) => id));
  const sorted = useMemo(
    () => [...pictures].sort((a, b) => (tiles.get(a.id)?.day ?? '9').localeCompare(tiles.get(b.id)?.day ?? '9')),
    [pictures, tiles],
  );
  const [name, setName] = useState<string | null>(null);
  const called = name ?? (of ? t`The best of ${of.name}` : '');
  const keep = async () => {
    const made = await act(
      () => call('makeAlbum', { body: { name: called.trim().slice(0, 160), ids: sorted.map(({ id }) => id) } }),
      t`Album “${called.trim()}” made`,
      'albums',
    );
    if (made) router.replace({ pathname: '/albums/[id]', params: { id: made.id } });
  };
  const favourites = (people ?? []).filter((person) => person.favourite).slice(0, 8);
  const take = (one: Of) => {
    setChosen(one);
    setWithout(new Set());
  };
  return (
    <Page>
      <View className="pt-3">
        <Way way={[]} />
        <Words kind="title">{t`The best of …`}</Words>
        <Words className="mb-2 text-soft">{t`A proposal by stars, hearts and what is seen, never the same moment twice. Nothing is made before you keep it.`}</Words>
      </View>
      <View className="mb-1 flex-row flex-wrap gap-x-2" role="group" aria-label={t`Of what`}>
        {given ? <Chip label={given.name} on={of?.key === 'given'} onPress={() => take(given)} /> : null}
        {years.slice(0, 10).map((y) => (
          <Chip
            key={y}
            label={String(y)}
            on={of?.key === `year ${y}`}
            onPress={() => take({ key: `year ${y}`, name: String(y), from: { question: year(y) } })}
          />
        ))}
        {favourites.map((person) => (
          <Chip
            key={person.id}
            label={person.name}
            on={of?.key === `person ${person.id}`}
            onPress={() => take({ key: `person ${person.id}`, name: person.name, from: { person: person.id } })}
          />
        ))}
      </View>
      <View className="mb-4 gap-3 rounded-card border border-line bg-card p-4">
        <View className="flex-row flex-wrap items-center gap-x-2" role="group" aria-label={t`How many`}>
          {SIZES.map((size) => (
            <Chip key={size} label={sayNumber(size)} on={n === size} onPress={() => setN(size)} />
          ))}
          <Words kind="small">{t`pictures`}</Words>
        </View>
        <Dial
          label={t`How widely it is spread`}
          left={t`only the best`}
          right={t`something of everything`}
          value={spread}
          onChange={setSpread}
        />
        <Dial label={t`Views or people`} left={t`places and views`} right={t`people`} value={lean} onChange={setLean} />
      </View>
      {error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : !data ? (
        <Waiting text={t`Looking through them …`} />
      ) : null}
      {data && data.of === 0 ? (
        <Empty title={t`No pictures there`} text={t`Choose another year or person above.`} />
      ) : null}
      {data && data.of > 0 ? (
        <>
          <Heading right={isFetching ? t`looking …` : t`of ${sayNumber(data.of)}`}>
            {plural(pictures.length, { one: '# picture proposed', other: '# pictures proposed' })}
          </Heading>
          <div
            data-testid="proposed"
            style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(158px, 1fr))', gap: '16px 12px' }}
          >
            {sorted.map(({ id, reasons }) => {
              const tile = tiles.get(id);
              return (
                <div key={id} data-id={id} style={{ minWidth: 0, position: 'relative' }}>
                  <div
                    style={{
                      aspectRatio: '171 / 121',
                      borderRadius: CORNER.picture,
                      overflow: 'hidden',
                      background: 'rgb(var(--line))',
                    }}
                  >
                    {tile ? (
                      <img
                        src={smallOf(tile.sha)}
                        alt={tileLabel(tile)}
                        style={{ width: '100%', height: '100%', objectFit: 'contain' }}
                      />
                    ) : null}
                  </div>
                  <View className="flex-row items-center">
                    <Words kind="small" className="min-w-0 flex-1" numberOfLines={2}>
                      {sayBest(reasons, data.names)}
                    </Words>
                    <IconButton
                      name="away"
                      size={15}
                      tone="soft"
                      label={tile ? t`Leave out ${tileLabel(tile)}` : t`Leave out`}
                      onPress={() => setWithout(new Set([...without, id]))}
                    />
                  </View>
                </div>
              );
            })}
          </div>
          <View className="mt-6 max-w-[480px] gap-3">
            <Field label={t`Name of the album`} value={called} onChangeText={setName} maxLength={160} />
            <Button
              label={plural(pictures.length, { one: 'Keep # picture as an album', other: 'Keep these # as an album' })}
              disabled={!called.trim() || pictures.length === 0}
              onPress={() => void keep()}
            />
          </View>
        </>
      ) : null}
    </Page>
  );
}
