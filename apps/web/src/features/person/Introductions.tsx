import { plural, t } from '@lingui/core/macro';
import type { FaceAnswer, Introduction } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { portraitOf, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { undoLast } from '@/state/acts';
import { useKeepFree } from '@/state/room';
import { useTiles } from '@/state/tiles';
import { useLow, useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { isForPage } from '@/ui/keys';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { answerFaces } from './acts';
import { NameInput } from './NameInput';
import { NewPerson } from './NewPerson';
import { CORNER, SIZE } from '@/ui/tokens';
import { firstName } from '@/features/person/names';
import { sayNumber } from '@/ui/say';
import { sayCloseness, saySpan, sayWhy, tileLabel } from '@/words/said';

const FIRST = 8;
/** Portraits of so many groups ahead are fetched beforehand. */
const AHEAD = 2;

/** A group is its faces: after an answer another one may have the same key. */
const mark = ({ faces }: Pick<Introduction, 'faces'>) => faces.map((f) => f.id).join(' ');
/** Faces shown of a group that is perhaps the same person. */
const GLANCE = 4;

/** One likely person at a time: who is it? The next one is ready as soon as this one is answered. */
export function Introductions() {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch } = useAnswer('introductions', {});
  const [answered, setAnswered] = useState<ReadonlySet<string>>(new Set());
  const groups = (data?.groups ?? []).filter((group) => !answered.has(mark(group)));
  const group = groups[0];
  const stale = (data?.groups.length ?? 0) - groups.length;
  const total = answered.size + Math.max(groups.length, (data?.total ?? 0) - stale);
  useEffect(() => {
    for (const next of groups.slice(1, 1 + AHEAD))
      for (const face of next.faces.slice(0, FIRST)) new Image().src = portraitOf(face.id);
  });
  const answer = async (of: readonly Pick<Introduction, 'faces'>[], odd: readonly number[], is: FaceAnswer['is']) => {
    // The next group is shown at once; a refused answer brings this one back.
    const marks = of.map(mark);
    setAnswered((old) => new Set([...old, ...marks]));
    const back = () => setAnswered((old) => new Set([...old].filter((one) => !marks.includes(one))));
    const faces = of.flatMap((one) => one.faces.map((f) => f.id));
    if (!(await answerFaces(faces, odd, is, back))) back();
  };
  return (
    <View style={{ flex: 1 }}>
      <View
        className={`w-full max-w-page flex-row items-center justify-between ${wide ? 'px-brim pt-4' : 'px-4 pt-1'}`}
      >
        <Pressable
          role="button"
          onPress={() => (router.canGoBack() ? router.back() : router.navigate('/browse/who'))}
          className="min-h-touch flex-row items-center"
        >
          <Words className="text-small text-soft">{`‹ ${t`Introductions`}`}</Words>
        </Pressable>
        {group ? <Words kind="small" className="text-small">{t`${answered.size + 1} of ${total}`}</Words> : null}
      </View>
      {error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : !data ? (
        <Waiting text={t`Looking through the faces …`} />
      ) : null}
      {data && !group ? (
        <Empty title={t`Everybody is introduced`} text={t`New faces appear here as pictures come in.`}>
          <Button label={t`See who is who`} weight="second" onPress={() => router.navigate('/browse/who')} />
        </Empty>
      ) : null}
      {group ? (
        <OneGroup key={mark(group)} first={group} onAnswer={(too, odd, is) => void answer([group, ...too], odd, is)} />
      ) : null}
    </View>
  );
}

function OneGroup({
  first,
  onAnswer,
}: {
  first: Introduction;
  onAnswer: (too: Introduction['perhaps'], odd: readonly number[], is: FaceAnswer['is']) => void;
}) {
  const wide = useWide();
  const low = useLow();
  const bar = useRef<HTMLDivElement>(null);
  useKeepFree('introductions', bar);
  const [odd, setOdd] = useState<ReadonlySet<number>>(new Set());
  const [all, setAll] = useState(false);
  const [typed, setTyped] = useState('');
  const [isNew, setIsNew] = useState(false);
  const [too, setToo] = useState<Introduction['perhaps']>([]);
  const faces = useMemo(() => [...first.faces, ...too.flatMap((one) => one.faces)], [first, too]);
  const pictures = new Set(faces.map((face) => face.picture));
  const group = { ...first, faces, pictures: pictures.size };
  // Nobody is in one picture twice.
  const perhaps = first.perhaps.filter((one) => !one.faces.some((face) => pictures.has(face.picture)));
  const shown = all ? group.faces : group.faces.slice(0, FIRST);
  const best = group.candidates[0];
  const answer = (is: FaceAnswer['is']) => onAnswer(too, [...odd], is);
  const flip = (id: number) =>
    setOdd((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const none = odd.size === group.faces.length;
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event)) return;
      const picked = group.candidates[Number(event.key) - 1];
      if (event.key === 'z') void undoLast();
      else if (event.key === 'n') setIsNew(true);
      else if (none) return;
      else if (event.key === 'Enter' && best && event.target === document.body) answer({ person: best.person });
      else if (picked) answer({ person: picked.person });
      else if (event.key === 'x') answer('passer-by');
      else if (event.key === 'l') answer('later');
      else return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  const acts = (
    <View className="gap-0.5">
      <View className="flex-row gap-2.5">
        {best ? (
          <Button
            className="flex-1"
            disabled={none}
            label={t`It’s ${firstName(best.name)}`}
            onPress={() => answer({ person: best.person })}
          />
        ) : null}
        <Button
          className="flex-1"
          weight="second"
          disabled={none}
          label={typed.trim() ? t`Somebody new: ${typed.trim()}` : t`Somebody new`}
          // A name that has been typed is enough; more can be said of somebody new before.
          onPress={() => (typed.trim() ? answer({ newPerson: typed.trim() }) : setIsNew(true))}
        />
      </View>
      <View className="flex-row flex-wrap justify-center gap-1">
        <Button label={t`Passer-by`} weight="quiet" disabled={none} onPress={() => answer('passer-by')} />
        <Button label={t`Not a face`} weight="quiet" disabled={none} onPress={() => answer('not a face')} />
        <Button label={t`Later`} weight="quiet" disabled={none} onPress={() => answer('later')} />
      </View>
      {wide ? (
        <Words
          kind="small"
          className="text-center"
        >{t`Enter: the first · 1 to 3: one of them · N: somebody new · X: passer-by · L: later · Z: undo`}</Words>
      ) : null}
    </View>
  );
  const span = group.from && group.to ? saySpan(group.from, group.to) : '';
  const away = odd.size
    ? plural(odd.size, {
        one: '# face isn’t them; you’ll be asked about it separately.',
        other: '# faces aren’t them; you’ll be asked about them separately.',
      })
    : '';

  return (
    <View style={{ flex: 1, flexDirection: wide ? 'row' : 'column' }}>
      <ScrollView
        style={{ flex: 1 }}
        contentContainerStyle={{
          paddingHorizontal: wide ? SIZE.brim : SIZE.edge,
          paddingBottom: wide ? 80 : 20,
          gap: 14,
          maxWidth: 720,
          width: '100%',
        }}
      >
        <View>
          <Words kind="title" className="text-title">{t`Somebody you know?`}</Words>
          <Words
            kind="small"
            aria-live="polite"
            className="mt-1 text-small"
          >{`${[plural(group.pictures, { one: '# picture', other: '# pictures' }), span].filter(Boolean).join(', ')}. ${away || (group.faces.length > 1 ? t`Tap any face that isn’t them.` : '')}`}</Words>
        </View>
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: `repeat(auto-fill, minmax(${wide ? 96 : 74}px, 1fr))`,
            gap: wide ? 14 : 10,
            justifyItems: 'center',
          }}
        >
          {shown.map((face, i) => {
            const off = odd.has(face.id);
            const label = off
              ? t`Face ${i + 1} of ${group.faces.length}, not them`
              : t`Face ${i + 1} of ${group.faces.length}`;
            const body = (
              <>
                <Cameo face={face.id} width={wide ? 84 : 70} faded={off} />
                {off ? (
                  <View className="absolute bottom-1 left-0 right-0 items-center">
                    <Words
                      kind="tiny"
                      className="rounded-full bg-paper px-1.5 font-bold text-brick"
                    >{t`not them`}</Words>
                  </View>
                ) : null}
              </>
            );
            return group.faces.length > 1 ? (
              <Pressable
                key={face.id}
                role="checkbox"
                aria-checked={!off}
                aria-label={label}
                onPress={() => flip(face.id)}
              >
                {body}
              </Pressable>
            ) : (
              <View key={face.id}>{body}</View>
            );
          })}
        </div>
        {group.faces.length > FIRST && !all ? (
          <Button
            label={t`Show all ${sayNumber(group.faces.length)}`}
            weight="quiet"
            className="min-h-touch self-start px-0"
            onPress={() => setAll(true)}
          />
        ) : null}
        {perhaps.map((one) => (
          <View key={one.key} className="gap-2 rounded-card border border-line bg-card p-3.5">
            <Words kind="small" className="text-small">{t`Perhaps the same person`}</Words>
            <View className="flex-row flex-wrap items-center gap-2">
              {one.faces.slice(0, GLANCE).map((face) => (
                <Cameo key={face.id} face={face.id} width={SIZE.touch} />
              ))}
              {one.faces.length > GLANCE ? (
                <Words kind="small">{t`and ${sayNumber(one.faces.length - GLANCE)} more`}</Words>
              ) : null}
            </View>
            <Button
              label={one.faces.length > 1 ? t`These too` : t`This one too`}
              weight="second"
              className="self-start"
              onPress={() => setToo((old) => [...old, one])}
            />
          </View>
        ))}
        {isNew ? (
          <NewPerson onName={answer} onBack={() => setIsNew(false)} />
        ) : (
          <NameInput label={t`Type a name`} onName={(is) => (none ? undefined : answer(is))} onTyped={setTyped} />
        )}
        {group.candidates.length && !typed && !isNew ? (
          <View>
            <Words kind="small" className="mb-1 text-small">{t`Looks most like`}</Words>
            {group.candidates.map((c) => (
              <Pressable
                key={c.person}
                role="button"
                onPress={() => answer({ person: c.person })}
                disabled={none}
                className="min-h-16 flex-row items-center gap-3.5 border-t border-line py-1.5 active:bg-mist"
              >
                <Cameo face={c.portrait} width={38} />
                <View className="min-w-0 flex-1">
                  <Words kind="strong" className="text-body">
                    {c.name}
                  </Words>
                  <Words kind="small">{sayWhy(c.why)}</Words>
                </View>
                <Words kind="small" className="font-bold text-juniper">
                  {sayCloseness(c.closeness)}
                </Words>
              </Pressable>
            ))}
          </View>
        ) : null}
        {(wide || low) && !isNew ? acts : null}
      </ScrollView>
      {wide ? <WholePictures faces={shown} /> : null}
      {wide || low || isNew ? null : (
        <div ref={bar} style={{ borderTop: '1px solid rgb(var(--line))', padding: '10px 16px 0' }}>
          {acts}
        </div>
      )}
    </View>
  );
}

/** The whole pictures that faces come from: who somebody is shows best in company. */
function WholePictures({ faces }: { faces: Introduction['faces'] }) {
  const router = useRouter();
  const ids = useMemo(() => [...new Set(faces.map((face) => face.picture))], [faces]);
  const tiles = useTiles(ids);
  return (
    <ScrollView style={{ flex: 1, maxWidth: 520 }} contentContainerStyle={{ padding: 26, paddingTop: 6, gap: 10 }}>
      <Words kind="small">{ids.length === 1 ? t`The picture it’s from` : t`The pictures they’re from`}</Words>
      {ids.map((id) => {
        const tile = tiles.get(id);
        return tile ? (
          <Pressable
            key={id}
            role="link"
            aria-label={t`Open ${tileLabel(tile)}`}
            onPress={() => router.push({ pathname: '/picture/[id]', params: { id } })}
          >
            <img
              src={smallOf(tile.sha)}
              alt=""
              loading="lazy"
              style={{
                width: '100%',
                maxHeight: 300,
                objectFit: 'contain',
                borderRadius: CORNER.picture,
                objectPosition: 'left',
              }}
            />
          </Pressable>
        ) : null;
      })}
    </ScrollView>
  );
}
