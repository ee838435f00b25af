import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { Members } from '@/features/account/Members';
import { useMe } from '@/features/account/session';
import { You } from '@/features/account/You';
import { useLook, type Scheme } from '@/state/look';
import { useWide } from '@/state/wide';
import { LanguageChips } from '@/features/account/LanguageChips';
import { chooseLanguage } from '@/features/account/spoken';
import { act } from '@/state/acts';
import { language } from '@/words/speak';
import { LOOKS_KEPT } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { DeviceSection } from '@/features/device/DevicePage';
import { ForWhom } from '@/features/sight/ForWhom';
import { NewsSection } from '@/features/notice/NewsLine';
import { MailSection } from '@/features/mail/Mailbox';
import { AddressForGuests } from '@/features/share/Reach';
import { LibraryZone } from './LibraryZone';
import { Observing } from './Observing';
import { Switch } from '@/ui/Switch';
import { Recognition } from './Recognition';
import { VaultLayout } from '@/features/vault/VaultLayout';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Marks } from '@/features/mark/Marks';
import { Heading } from '@/ui/DoubleBar';
import { sayBytes, sayNumber, sayWhen } from '@/ui/say';
import { Page } from '@/ui/State';
import { Words } from '@/ui/Words';
import { sayTrouble } from '@/words/said';
import { sayReason } from '@/words/problems';

const SCHEMES: [Scheme, MessageDescriptor][] = [
  ['system', msg`As on this device`],
  ['light', msg`Paper`],
  ['dark', msg`Evening`],
];

/** The household mark's page: what the library holds, work that failed, colours, signing out. */
export function Household() {
  const router = useRouter();
  const me = useMe().data;
  const library = useAnswer('library', {}).data;
  const wide = useWide();
  const { scheme, setScheme, thisDay, setThisDay } = useLook();
  const sections: [id: string, name: string, ReactNode][] = [
    [
      'kept',
      t`What is kept`,
      <View key="kept" className="gap-1">
        <Heading>{t`What is kept`}</Heading>
        {library ? (
          <>
            <Words>{`${plural(library.pictures, { one: '# picture', other: '# pictures' })}, ${sayBytes(library.bytes)}`}</Words>
            <Words className="text-soft">
              {library.arriving
                ? t`${sayNumber(library.arriving)} still coming in`
                : t`Everything that came in is stored.`}
            </Words>
            {me?.member?.part === 'keeper' ? (
              <View className="mt-1 flex-row flex-wrap gap-2">
                <Button label={t`Safekeeping`} weight="second" onPress={() => router.push('/safekeeping')} />
                <Button label={t`Libraries`} weight="second" onPress={() => router.push('/libraries')} />
                <Button label={t`What takes up space`} weight="second" onPress={() => router.push('/storage')} />
              </View>
            ) : null}
          </>
        ) : null}
      </View>,
    ],
    ['news', t`What’s new`, <NewsSection key="news" />],
    ...(me?.member?.part === 'relative'
      ? []
      : [
          [
            'done',
            t`What was done`,
            <View key="done" className="items-start gap-2">
              <Heading>{t`What was done`}</Heading>
              <Words className="text-soft">{t`A diary of everything said and done here. Anything in it can be undone for 30 days.`}</Words>
              <Button label={t`Open the diary`} weight="second" onPress={() => router.push('/done')} />
            </View>,
          ] as [string, string, ReactNode],
          [
            'bin',
            t`The bin`,
            <View key="bin" className="items-start gap-2">
              <Heading>{t`The bin`}</Heading>
              <InBin />
              <Button label={t`Open the bin`} weight="second" icon="bin" onPress={() => router.push('/bin')} />
            </View>,
          ] as [string, string, ReactNode],
        ]),
    ...(me?.member?.part === 'keeper'
      ? ([
          ['members', t`Who belongs`, <Members key="members" />],
          ['address', t`Address for guests`, <AddressForGuests key="address" />],
          ['mail', t`E-mail`, <MailSection key="mail" />],
        ] as [string, string, ReactNode][])
      : []),
    ...(me?.member?.part === 'keeper'
      ? [
          [
            'marks',
            t`Marks`,
            <View key="marks">
              <Heading>{t`Marks`}</Heading>
              <Marks />
            </View>,
          ] as [string, string, ReactNode],
        ]
      : []),
    ...(me?.member?.part === 'relative'
      ? []
      : ([
          ['whom', t`Who pictures are for`, <ForWhom key="whom" />],
          ['failed', t`Work that failed`, <Troubles key="failed" />],
          ['faces', t`Recognising faces`, <Recognition key="faces" />],
        ] as [string, string, ReactNode][])),
    ...(me?.member?.part === 'relative'
      ? []
      : [['noticed', t`What the machine notices`, <Observing key="noticed" />] as [string, string, ReactNode]]),
    ...(me?.member?.part === 'keeper'
      ? [['looks', t`Touch-ups`, <LooksKept key="looks" />] as [string, string, ReactNode]]
      : []),
    ...(me?.member?.part === 'relative'
      ? []
      : [['disk', t`Where originals are kept`, <VaultLayout key="disk" />] as [string, string, ReactNode]]),
    [
      'colours',
      t`Colours`,
      <View key="colours">
        <Heading>{t`Colours`}</Heading>
        <View className="flex-row flex-wrap gap-2">
          {SCHEMES.map(([value, name]) => (
            <Chip key={value} label={i18n._(name)} on={scheme === value} onPress={() => setScheme(value)} />
          ))}
        </View>
        {me?.member?.part === 'relative' ? null : (
          <Switch
            shown
            on={thisDay}
            label={t`This day in other years, on Arrivals`}
            onTurn={() => setThisDay(!thisDay)}
          />
        )}
      </View>,
    ],
    ['device', t`On this device`, <DeviceSection key="device" onOpen={() => router.push('/device')} />],
    ['language', t`Language`, <LibraryLanguage key="language" />],
    ['you', t`You`, <You key="you" />],
    [
      'made',
      t`What Gemmel is made of`,
      <View key="made" className="items-start gap-2">
        <Heading>{t`What Gemmel is made of`}</Heading>
        <Words className="text-soft">{t`The work of others that comes with it, and its licences.`}</Words>
        <Button label={t`See it`} weight="second" onPress={() => router.push('/made-of')} />
      </View>,
    ],
  ];
  const all = (
    <View className="gap-8">
      {sections.map(([id, , section]) => (
        <section key={id} id={`household-${id}`} style={{ scrollMarginTop: 20 }}>
          {section}
        </section>
      ))}
    </View>
  );
  if (!wide)
    return (
      <Page title={library?.name ?? t`Household`} narrow>
        {all}
      </Page>
    );
  return (
    <Page title={library?.name ?? t`Household`}>
      <div style={{ display: 'grid', gridTemplateColumns: '190px minmax(0, 720px)', gap: 40 }}>
        <nav aria-label={t`Sections`} style={{ position: 'sticky', top: 20, alignSelf: 'start' }}>
          {sections.map(([id, name]) => (
            <Pressable
              key={id}
              role="link"
              className="min-h-touch justify-center"
              onPress={() => document.getElementById(`household-${id}`)?.scrollIntoView({ behavior: 'smooth' })}
            >
              <Words className="text-body text-juniper">{name}</Words>
            </Pressable>
          ))}
        </nav>
        {all}
      </div>
    </Page>
  );
}

/** How many earlier looks of a picture are kept. */
function LooksKept() {
  const data = useAnswer('looksKept', {}).data;
  if (!data) return null;
  const set = (kept: number | null) =>
    act(
      () => call('setLooksKept', { body: { kept } }),
      kept === null
        ? t`Every earlier look is kept now`
        : plural(kept, { one: '# earlier look is kept now', other: '# earlier looks are kept now' }),
      'library',
    );
  return (
    <View>
      <Heading>{t`Touch-ups`}</Heading>
      <Words className="text-soft">{t`Originals always stay as they were taken. Of each picture, so many earlier looks are kept:`}</Words>
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Earlier looks`}>
        {LOOKS_KEPT.map((kept) => (
          <Chip
            key={String(kept)}
            label={kept === null ? t`All` : sayNumber(kept)}
            on={data.kept === kept}
            onPress={() => void set(kept)}
          />
        ))}
      </View>
    </View>
  );
}

/** How much is in the bin. */
function InBin() {
  const bin = useAnswer('bin', { query: { limit: 1 } }).data;
  if (!bin) return null;
  return (
    <Words className="text-soft">
      {bin.pictures
        ? `${plural(bin.pictures, { one: '# picture', other: '# pictures' })}, ${sayBytes(bin.bytes)}`
        : t`Nothing is in the bin.`}
    </Words>
  );
}

/** The language on screen, and for the keeper that of the library, which the machine names folders and events in. */
function LibraryLanguage() {
  const me = useMe().data;
  const set = (language: Language) =>
    act(
      () => call('setLibraryLanguage', { body: { language } }),
      [t`Language of the library set`, t`Folders follow in the background.`],
      'library',
      'filing',
    ).then(() => refresh('me'));
  return (
    <View className="gap-2">
      <Heading>{t`Language`}</Heading>
      <LanguageChips chosen={language()} onChoose={(next) => void chooseLanguage(next, true).catch(trouble)} />
      {me?.member?.part === 'keeper' ? (
        <>
          <Words className="text-soft">{t`Gemmel names folders and suggests names for events in the language of the library:`}</Words>
          <LanguageChips label={t`Language of the library`} chosen={me.language} onChoose={(next) => void set(next)} />
          <LibraryZone />
        </>
      ) : null}
    </View>
  );
}

/** Work that keeps failing, with its reason, to be tried again. */
function Troubles() {
  const troubles = useAnswer('troubles', {}).data?.troubles ?? [];
  return (
    <View>
      <Heading
        tone={troubles.length ? 'waiting' : 'settled'}
        right={troubles.length || ''}
      >{t`Work that failed`}</Heading>
      {troubles.length === 0 ? (
        <Words className="text-soft">{t`None. Anything that fails is tried again by itself; whatever keeps failing is listed here with its reason.`}</Words>
      ) : null}
      {troubles.map((one) => (
        <View key={one.id} className="flex-row items-center gap-3 border-t border-line py-3">
          <View className="min-w-0 flex-1">
            <Words kind="strong">{sayTrouble(one)}</Words>
            <Words kind="small">{`${sayReason(one.reason)} · ${plural(one.tries, { one: `tried # time, last ${sayWhen(one.at)}`, other: `tried # times, last ${sayWhen(one.at)}` })}`}</Words>
          </View>
          <Button
            label={t`Try again`}
            weight="second"
            onPress={() =>
              void call('retryTrouble', { params: { id: one.id } }).then(
                () => (say(t`Trying again`), refresh('troubles', 'library')),
                trouble,
              )
            }
          />
        </View>
      ))}
    </View>
  );
}
