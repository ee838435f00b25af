import type { LibraryLine } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { LibrarySheet } from '@/features/account/LibrarySheet';
import { Wrong } from '@/features/account/Door';
import { goInto, useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { sayBytes, sayDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { sayPart } from '@/words/said';
import { KeepHouse } from './KeepHouse';
import { sayPeople } from './words';

/** The libraries somebody belongs to, those they removed, and keeping house in the one of this tab. */
export function Libraries() {
  const me = useMe().data;
  const { data, error, refetch } = useAnswer('libraries', {});
  const [making, setMaking] = useState(false);
  const keeper = me?.member?.part === 'keeper';
  return (
    <Page title={t`Libraries`} narrow>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data ? (
        <View className="gap-8">
          {data.libraries.map((one) =>
            one.removed ? (
              <Removed key={one.slug} library={one} />
            ) : (
              <LibraryCard key={one.slug} library={one} here={one.slug === me?.library?.slug} />
            ),
          )}
          {keeper ? (
            <Button
              label={t`Make another library`}
              weight="second"
              icon="plus"
              className="self-start"
              onPress={() => setMaking(true)}
            />
          ) : null}
          {keeper ? <KeepHouse name={me.library!.name} house={data.houseKeeper} /> : null}
        </View>
      ) : null}
      {making ? <LibrarySheet onClose={() => setMaking(false)} /> : null}
    </Page>
  );
}

/** A library with what it holds, who may open it, and what can be done with it. */
function LibraryCard({ library, here }: { library: LibraryLine; here: boolean }) {
  const { name, slug, part, pictures, bytes, working, troubles, house } = library;
  const [open, setOpen] = useState<'name' | 'remove' | null>(null);
  return (
    <View role="group" aria-label={name}>
      <Heading tone={troubles ? 'waiting' : 'settled'}>{name}</Heading>
      <View className="gap-0.5">
        <Words>
          {[plural(pictures, { one: '# picture', other: '# pictures' }), sayBytes(bytes), here ? t`in this tab` : '']
            .filter(Boolean)
            .join(' · ')}
        </Words>
        <Words className="text-soft">
          {part === 'keeper' ? t`May open it: ${sayPeople(library)}` : t`You are ${sayPart(part)} there.`}
        </Words>
        {troubles ? (
          <Words className="font-semi text-marigold">
            {plural(troubles, { one: '# piece of work failed.', other: '# pieces of work failed.' })}
          </Words>
        ) : working ? (
          <Words className="text-soft">{t`Something is still being worked on.`}</Words>
        ) : null}
      </View>
      <View className="flex-row flex-wrap gap-2 pt-2">
        {here ? null : <Button label={t`Show it in this tab`} weight="second" onPress={() => goInto(slug)} />}
        {here && part === 'keeper' ? (
          <Button label={t`Rename`} weight="second" onPress={() => setOpen('name')} />
        ) : null}
        {here && part === 'keeper' && !house ? (
          <Button label={t`Remove`} weight="quiet" onPress={() => setOpen('remove')} />
        ) : null}
      </View>
      {open === 'name' ? <NameSheet name={name} onClose={() => setOpen(null)} /> : null}
      {open === 'remove' ? <RemoveSheet library={library} onClose={() => setOpen(null)} /> : null}
    </View>
  );
}

function NameSheet({ name: was, onClose }: { name: string; onClose: () => void }) {
  const [name, setName] = useState(was);
  const save = async () => {
    onClose();
    await act(
      () => call('nameLibrary', { body: { name: name.trim() } }),
      t`It’s called “${name.trim()}” now`,
      'library',
    );
    refresh('libraries', 'me');
  };
  return (
    <Sheet title={t`Rename the library`} onClose={onClose}>
      <Field label={t`Name of the library`} value={name} onChangeText={setName} maxLength={160} />
      <Button label={t`Save`} disabled={!name.trim() || name.trim() === was} onPress={() => void save()} />
    </Sheet>
  );
}

/** Asks for the name before a library goes: from here it is in the bin for a month. */
function RemoveSheet({ library: { name, pictures }, onClose }: { library: LibraryLine; onClose: () => void }) {
  const [word, setWord] = useState('');
  const [wrong, setWrong] = useState('');
  const remove = async () => {
    setWrong('');
    try {
      const me = await call('removeLibrary', { body: { name: word } });
      say(t`“${name}” is removed. You can bring it back for 30 days.`);
      goInto(me.libraries[0]?.slug ?? null);
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`Remove “${name}”?`} onClose={onClose}>
      <Words>
        {plural(pictures, {
          0: 'Nobody will be able to open it, and its links close. For 30 days you can bring it back as it is; then it goes for good.',
          one: 'Nobody will be able to open it, and its links close. For 30 days you can bring it back as it is; then its picture goes for good.',
          other:
            'Nobody will be able to open it, and its links close. For 30 days you can bring it back as it is; then its # pictures go for good.',
        })}
      </Words>
      <Field label={t`Type its name to be sure`} value={word} onChangeText={setWord} maxLength={200} />
      <Wrong text={wrong} />
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Remove the library`} weight="brick" disabled={!word.trim()} onPress={() => void remove()} />
        <Button label={t`Keep it`} weight="quiet" onPress={onClose} />
      </View>
    </Sheet>
  );
}

/** A removed library, while it can be brought back. */
function Removed({ library: { name, slug, pictures, bytes, removed } }: { library: LibraryLine }) {
  const [erasing, setErasing] = useState(false);
  const back = async () => {
    try {
      await call('bringLibraryBack', { params: { slug } });
      refresh('libraries', 'me');
      say(t`“${name}” is back`);
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <View role="group" aria-label={name}>
      <Heading tone="waiting">{name}</Heading>
      <Words>{[plural(pictures, { one: '# picture', other: '# pictures' }), sayBytes(bytes)].join(' · ')}</Words>
      <Words className="text-soft">{t`Removed on ${sayDay(removed!.at.slice(0, 10))}. You can bring it back until ${sayDay(removed!.until.slice(0, 10))}.`}</Words>
      <View className="flex-row flex-wrap gap-2 pt-2">
        <Button label={t`Bring it back`} weight="second" onPress={() => void back()} />
        <Button label={t`Remove it for good`} weight="quiet" onPress={() => setErasing(true)} />
      </View>
      {erasing ? <EraseSheet name={name} slug={slug} onClose={() => setErasing(false)} /> : null}
    </View>
  );
}

function EraseSheet({ name, slug, onClose }: { name: string; slug: string; onClose: () => void }) {
  const [word, setWord] = useState('');
  const [wrong, setWrong] = useState('');
  const erase = async () => {
    setWrong('');
    try {
      await call('eraseLibrary', { params: { slug }, body: { name: word } });
      refresh('libraries');
      say(t`“${name}” is going for good`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`Remove “${name}” for good?`} onClose={onClose}>
      <Words>{t`Its originals and everything said about them go now. Nothing here can bring them back; a second copy elsewhere still holds them for a while.`}</Words>
      <Field label={t`Type its name to be sure`} value={word} onChangeText={setWord} maxLength={200} />
      <Wrong text={wrong} />
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Remove for good`} weight="brick" disabled={!word.trim()} onPress={() => void erase()} />
        <Button label={t`Keep it`} weight="quiet" onPress={onClose} />
      </View>
    </Sheet>
  );
}
