import { plural, t } from '@lingui/core/macro';
import type { Running } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { trouble } from '@/state/toast';
import { ThisDay } from './ThisDay';
import { Pins } from '@/features/pin/Pins';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { NewsLine } from '../notice/NewsLine';
import { SafeLine } from '../safe/SafeLine';
import { Words } from '@/ui/Words';
import { CardOffers } from '../gather/CardOffers';
import { DeviceRows } from '../gather/DeviceRows';
import { FilingLine } from '@/features/vault/VaultLayout';
import { ClockOffers } from '../time/ClockOffers';
import { BatchCard } from './BatchCard';
import { takeIn } from './sending';
import { bundles, chosen, dropped } from './walk';
import { CORNER, SIZE } from '@/ui/tokens';
import { sayWork } from '@/words/problems';

/** Batches and what is still to do with them; files and folders may be dropped anywhere on the page. */
export function Arrivals() {
  const wide = useWide();
  const batches = useAnswer('batches', {});
  const library = useAnswer('library', {}).data;
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const camera = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  useEffect(() => {
    let depth = 0;
    const isFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
    const enter = (event: DragEvent) => isFiles(event) && (depth++, setOver(true));
    const leave = (event: DragEvent) => isFiles(event) && --depth <= 0 && ((depth = 0), setOver(false));
    const hover = (event: DragEvent) => isFiles(event) && event.preventDefault();
    const drop = (event: DragEvent) => {
      if (!isFiles(event) || !event.dataTransfer) return;
      event.preventDefault();
      depth = 0;
      setOver(false);
      dropped(event.dataTransfer).then(({ files: found, doors }) => takeIn(bundles(found, doors)), trouble);
    };
    window.addEventListener('dragenter', enter);
    window.addEventListener('dragleave', leave);
    window.addEventListener('dragover', hover);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragenter', enter);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('dragover', hover);
      window.removeEventListener('drop', drop);
    };
  }, []);
  const picked = (input: HTMLInputElement) => {
    const found = chosen(input.files);
    if (found.length) void takeIn(bundles(found));
    input.value = '';
  };
  const list = batches.data?.batches ?? [];
  return (
    <Page
      title={t`Arrivals`}
      right={
        <Link
          href="/household"
          aria-label={t`Household and settings`}
          style={{
            minWidth: SIZE.touch,
            minHeight: SIZE.touch,
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
          }}
        >
          <Rings size={36} />
        </Link>
      }
    >
      <input
        ref={files}
        type="file"
        multiple
        hidden
        aria-label={t`Choose pictures`}
        data-testid="files"
        onChange={(event) => picked(event.currentTarget)}
      />
      <input
        ref={camera}
        type="file"
        hidden
        accept="image/*,video/*"
        capture="environment"
        aria-label={t`Take a picture now`}
        data-testid="camera"
        onChange={(event) => picked(event.currentTarget)}
      />
      <input
        ref={folder}
        type="file"
        multiple
        hidden
        aria-label={t`Choose a folder`}
        data-testid="folder"
        {...{ webkitdirectory: '' }}
        onChange={(event) => picked(event.currentTarget)}
      />
      <View className={wide ? 'flex-row items-start gap-8' : 'gap-6'}>
        <View className="gap-4" style={wide ? { width: 380 } : {}}>
          <NewsLine />
          <SafeLine />
          <CardOffers />
          <ClockOffers />
          <FilingLine />
          {library ? (
            <Waits
              unnamed={library.unnamedEvents}
              clocks={library.clocks}
              faces={library.introductions}
              runs={library.runs}
              doubles={library.doubles}
              scans={library.scans}
              offers={library.batchesWaiting}
              pictures={library.pictures}
              arriving={library.arriving}
              full={library.full}
              troubles={library.troubles}
              running={library.final ? [] : library.running}
            />
          ) : null}
          {wide ? null : <Pins />}
          <ThisDay />
          <View className="gap-3 rounded-card border border-dashed border-soft bg-card p-4">
            <Words kind="strong">{t`Bring in pictures`}</Words>
            <Words kind="small">
              {wide
                ? t`Drop files and whole folders anywhere on this page. Each folder becomes its own batch. Nothing is removed from where it was.`
                : t`Each folder becomes its own batch. Nothing is removed from where it was.`}
            </Words>
            <View className="flex-row gap-3">
              <Button className="flex-1" label={t`Choose files`} icon="plus" onPress={() => files.current?.click()} />
              <Button
                className="flex-1"
                label={t`Choose a folder`}
                icon="folder"
                weight="second"
                onPress={() => folder.current?.click()}
              />
            </View>
            {wide ? null : (
              <Button
                label={t`Take a picture now`}
                icon="camera"
                weight="quiet"
                onPress={() => camera.current?.click()}
              />
            )}
          </View>
          {wide ? <DeviceRows /> : null}
        </View>
        <View className="min-w-0 flex-1 gap-6">
          {wide ? null : <DeviceRows most={4} />}
          <View>
            {batches.error ? (
              <Failed error={batches.error} again={() => void batches.refetch()} />
            ) : !batches.data ? (
              <Waiting />
            ) : null}
            {batches.data && list.length === 0 ? (
              <Empty
                title={t`Nothing has come in yet`}
                text={t`Every phone, card or folder you bring in is listed here as a batch, with what was stored and what was left out.`}
              />
            ) : null}
            {list.length ? (
              <>
                <Heading
                  right={plural(list.length, { one: '# batch', other: '# batches' })}
                >{t`What has come in`}</Heading>
                {list.map((batch) => (
                  <BatchCard
                    key={batch.id}
                    batch={batch}
                    full={library?.full ?? false}
                    again={() => (batch.named === 'loose' ? files : folder).current?.click()}
                  />
                ))}
              </>
            ) : null}
          </View>
        </View>
      </View>
      {over ? (
        <div
          style={{
            position: 'fixed',
            inset: 12,
            zIndex: 30,
            borderRadius: CORNER.card,
            border: '3px dashed rgb(var(--juniper))',
            background: 'rgb(var(--paper) / 0.93)',
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
            pointerEvents: 'none',
          }}
        >
          <Words kind="title">{t`Drop to bring them in`}</Words>
        </div>
      ) : null}
    </Page>
  );
}

/** A piece of work and how far it is: "Gathering faces, 12 of 40". */
const sayRunning = ({ kind, done, of }: Running): string =>
  of > 1 ? t`${sayWork(kind)}, ${sayNumber(done)} of ${sayNumber(of)}` : sayWork(kind);

/** What is left to do, each line leading to where it is done. */
function Waits({
  unnamed,
  clocks,
  faces,
  runs,
  scans,
  doubles,
  offers,
  pictures,
  arriving,
  full,
  troubles,
  running,
}: {
  unnamed: number;
  clocks: number;
  faces: number;
  runs: number;
  scans: number;
  doubles: number;
  offers: number;
  pictures: number;
  arriving: number;
  full: boolean;
  troubles: number;
  running: readonly Running[];
}) {
  const looking = running.filter(({ kind, answers }) => answers && kind !== 'intake');
  const router = useRouter();
  const rows: { name: string; text: string; n: number; go?: () => void }[] = [
    {
      name: t`Gathered`,
      text: full
        ? t`The disk is full. Everything stored is safe; the rest continues when there is space.`
        : arriving
          ? t`${sayNumber(arriving)} still coming in`
          : offers
            ? plural(offers, { one: '# batch could become an album', other: '# batches could become albums' })
            : t`Everything is stored`,
      n: arriving || offers,
    },
    ...(looking.length
      ? [
          {
            name: t`Still working`,
            text: `${looking.map(sayRunning).join(' · ')}. ${t`Until then, groups and events may still change.`}`,
            n: looking.length,
          },
        ]
      : []),
    {
      name: t`Days and events`,
      text:
        [
          unnamed ? plural(unnamed, { one: '# event to name', other: '# events to name' }) : '',
          clocks ? plural(clocks, { one: '# clock to set right', other: '# clocks to set right' }) : '',
        ]
          .filter(Boolean)
          .join(', ') || t`Every event has a name`,
      n: unnamed + clocks,
      go: () => router.push('/sitting'),
    },
    {
      name: t`Introductions`,
      text: faces
        ? plural(faces, { one: '# group of faces without a name', other: '# groups of faces without a name' })
        : t`Everybody is introduced`,
      n: faces,
      go: () => router.push('/introductions'),
    },
    ...(runs + doubles
      ? [
          {
            name: t`Choose the best`,
            text: [
              runs ? plural(runs, { one: '# run of shots', other: '# runs of shots' }) : '',
              doubles ? plural(doubles, { one: '# picture kept twice', other: '# pictures kept twice' }) : '',
            ]
              .filter(Boolean)
              .join(', '),
            n: runs + doubles,
            go: () => router.push('/runs'),
          },
        ]
      : []),
    ...(scans
      ? [
          {
            name: t`Scans`,
            text: plural(scans, { one: '# scan to take apart', other: '# scans to take apart' }),
            n: scans,
            go: () => router.push('/scans'),
          },
        ]
      : []),
    ...(troubles
      ? [
          {
            name: t`Problems`,
            text: plural(troubles, { one: '# job failed', other: '# jobs failed' }),
            n: troubles,
            go: () => router.push('/household'),
          },
        ]
      : []),
  ];
  return (
    <View className="rounded-card border border-line bg-card px-4 pb-1 pt-4">
      <View className="flex-row items-end gap-3 pb-3">
        <Words kind="number">{sayNumber(pictures)}</Words>
        <Words className="pb-1 text-small">{plural(pictures, { one: 'picture kept', other: 'pictures kept' })}</Words>
      </View>
      {rows.map((row) => (
        <Pressable
          key={row.name}
          role={row.go ? 'button' : undefined}
          disabled={!row.go}
          onPress={row.go}
          className="min-h-16 flex-row items-center gap-3.5 border-t border-line py-2.5 active:opacity-80"
        >
          <DoubleBar tone={row.n ? 'waiting' : 'settled'} width={34} />
          <View className="min-w-0 flex-1">
            <Words kind="strong">{row.name}</Words>
            <Words kind="small">{row.text}</Words>
          </View>
          {row.go ? <Icon name="right" size={17} tone="soft" /> : null}
        </Pressable>
      ))}
    </View>
  );
}
