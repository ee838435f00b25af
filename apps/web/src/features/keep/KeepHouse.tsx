import { t } from '@lingui/core/macro';
import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { call, wordsOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { Wrong } from '@/features/account/Door';
import { goInto } from '@/features/account/session';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { sayReason } from '@/words/problems';
import { sayExport, sayFar, sayMoved, sayOpened, sayRepair, saySplit, sayTidy, type Keeping } from './words';

type Kind = 'repair' | 'tidy' | 'exportLibrary' | 'openLibrary' | 'moveLibrary';
type Work = Keeping['repair' | 'tidy' | 'export' | 'open' | 'move'];

/** Work that is under way, with how far it is and a way to stop it; else what it came to last, and a way to begin it. */
function Piece({
  kind,
  title,
  about,
  work,
  told,
  bytes = false,
  label,
  onBegin,
  children,
}: {
  kind: Kind;
  title: string;
  about: string;
  work: Work;
  told: string | null;
  bytes?: boolean;
  label: string;
  onBegin: () => void;
  children?: ReactNode;
}) {
  const busy = work?.state === 'ready' || work?.state === 'running';
  return (
    <View className="gap-1 border-t border-line pt-3">
      <Words kind="strong" role="heading" aria-level={3}>
        {title}
      </Words>
      <Words className="text-soft">{about}</Words>
      {busy && work ? (
        <View className="gap-2 pt-1">
          <Words kind="small" aria-live="polite">
            {sayFar(work, bytes)}
          </Words>
          <DoubleBar share={work.of ? work.done / work.of : 0} width={260} label={title} />
          <Button
            label={t`Stop`}
            weight="second"
            className="self-start"
            onPress={() => void call('stopKeeping', { body: { what: kind } }).then(() => refresh('keeping'), trouble)}
          />
        </View>
      ) : (
        <>
          {work?.state === 'failed' ? (
            <Words className="font-semi text-marigold">
              {work.why ? sayReason(work.why) : t`It didn’t finish. Start it again.`}
            </Words>
          ) : told ? (
            <Words aria-live="polite">{told}</Words>
          ) : null}
          {children}
          <Button label={label} weight="second" className="self-start" onPress={onBegin} />
        </>
      )}
    </View>
  );
}

/** Keeping house in a library: checked, tidied, copied out whole, another one opened, and pictures that went elsewhere. */
export function KeepHouse({ name, house }: { name: string; house: boolean }) {
  const router = useRouter();
  const { data } = useAnswer('keeping', {});
  const [asking, setAsking] = useState<'export' | 'open' | 'move' | null>(null);
  if (!data) return null;
  const begin = (what: 'repairLibrary' | 'tidyHouse') => void call(what, {}).then(() => refresh('keeping'), trouble);
  const { repair, tidy, open, move, home, splits } = data;
  const back = () => void call('moveLibrary', { body: { folder: null } }).then(() => refresh('keeping'), trouble);
  return (
    <View className="gap-4">
      <Heading>{t`Keeping house in “${name}”`}</Heading>
      <Button
        label={t`What takes up space`}
        weight="second"
        className="self-start"
        onPress={() => router.push('/storage')}
      />
      <Piece
        kind="repair"
        title={t`Files and database`}
        about={t`Compares what lies on the disk with what is known of it. What is missing comes back from a second copy, and what nobody knew is brought in.`}
        work={repair}
        told={repair?.result ? sayRepair(repair.result) : null}
        label={t`Check now`}
        onBegin={() => begin('repairLibrary')}
      >
        {repair?.result?.gone ? (
          <Words className="font-semi text-brick">
            {t`Gone, and in no second copy (${sayNumber(repair.result.gone)}): ${repair.result.named.slice(0, 5).join(', ')}`}
          </Words>
        ) : null}
      </Piece>
      {house ? (
        <>
          <Piece
            kind="tidy"
            title={t`Leftovers`}
            about={t`Removes what belongs to nothing: half-sent files, small versions of pictures that are gone, empty folders. Never an original, and nothing anyone said.`}
            work={tidy}
            told={tidy?.result ? sayTidy(tidy.result) : null}
            label={t`Tidy up`}
            onBegin={() => begin('tidyHouse')}
          />
          <Piece
            kind="exportLibrary"
            title={t`A copy to take along`}
            about={t`Copies this library into a folder that is whole in itself: originals, everything said about them, albums and music. It opens again here or anywhere.`}
            work={data.export}
            told={data.export?.result ? sayExport(data.export.result) : null}
            bytes
            label={t`Copy the library …`}
            onBegin={() => setAsking('export')}
          />
          <Piece
            kind="moveLibrary"
            title={t`Where the originals lie`}
            about={
              home === null
                ? t`On the same disk as everything else. When that gets too small, they can move to a folder on another; everybody can keep working meanwhile.`
                : t`In ${home}, on a disk of their own.`
            }
            work={move}
            told={move?.result ? sayMoved(move.result) : null}
            bytes
            label={home === null ? t`Move them …` : t`Move them back`}
            onBegin={() => (home === null ? setAsking('move') : back())}
          />
          <Piece
            kind="openLibrary"
            title={t`Open such a folder`}
            about={t`A library that was copied out, here or in another house, becomes a further library of this one.`}
            work={open}
            told={open?.result ? sayOpened(open.result) : null}
            label={t`Open a library …`}
            onBegin={() => setAsking('open')}
          >
            {open?.state === 'done' && open.result ? (
              <Button
                label={t`Show “${open.result.name}”`}
                weight="quiet"
                className="self-start px-0"
                onPress={() => goInto(open.result!.slug)}
              />
            ) : null}
          </Piece>
        </>
      ) : null}
      {splits.length ? (
        <View className="gap-1 border-t border-line pt-3">
          <Words kind="strong" role="heading" aria-level={3}>{t`Given to other libraries`}</Words>
          {splits.map((one) => (
            <Words key={one.id} aria-live="polite">
              {saySplit(one)}
            </Words>
          ))}
        </View>
      ) : null}
      {asking ? <FolderSheet what={asking} onClose={() => setAsking(null)} /> : null}
    </View>
  );
}

/** A path as the system writes it. */
const EXAMPLE = '/media/disk/library';

const ROUTES = { export: 'exportLibrary', open: 'openLibrary', move: 'moveLibrary' } as const;

/** Asks for a folder of the machine Gemmel runs on. */
function FolderSheet({ what, onClose }: { what: 'export' | 'open' | 'move'; onClose: () => void }) {
  const [folder, setFolder] = useState('');
  const [wrong, setWrong] = useState('');
  const begin = async () => {
    setWrong('');
    try {
      await call(ROUTES[what], { body: { folder: folder.trim() } });
      refresh('keeping');
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet
      title={what === 'export' ? t`Copy the library` : what === 'open' ? t`Open a library` : t`Move the originals`}
      onClose={onClose}
    >
      <Words>
        {what === 'export'
          ? t`A folder on the computer Gemmel runs on, for example on a disk you plugged in. It is made if it isn’t there; if a copy was cut short there, it continues.`
          : what === 'open'
            ? t`The folder on the computer Gemmel runs on that holds gemmel.json. It stays as it is; its pictures are copied.`
            : t`A folder on another disk of the computer Gemmel runs on; it has to be there already. Each original is compared on the way, and only then leaves its old place.`}
      </Words>
      <Field label={t`Folder`} value={folder} onChangeText={setFolder} placeholder={EXAMPLE} maxLength={500} />
      <Wrong text={wrong} />
      <Button
        label={what === 'export' ? t`Start copying` : what === 'open' ? t`Open it` : t`Start moving`}
        disabled={!folder.trim()}
        onPress={() => void begin()}
      />
    </Sheet>
  );
}
