import { useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { signOut, useMe } from '@/features/account/session';
import { useLook, type Scheme } from '@/state/look';
import { useWide } from '@/state/wide';
import { Recognition } from './Recognition';
import { VaultLayout } from '@/features/vault/VaultLayout';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { count, sayBytes, sayNumber, sayWhen } from '@/ui/say';
import { Page } from '@/ui/State';
import { Words } from '@/ui/Words';

const SCHEMES: [Scheme, string][] = [
  ['system', 'As the device'],
  ['light', 'Paper'],
  ['dark', 'Evening'],
];

/** The household mark's page: what the library holds, work that failed, colours, signing out. */
export function Household() {
  const router = useRouter();
  const me = useMe().data;
  const library = useAnswer('library', {}).data;
  const wide = useWide();
  const { scheme, setScheme } = useLook();
  const sections: [id: string, name: string, ReactNode][] = [
    [
      'kept',
      'What is kept',
      <View key="kept" className="gap-1">
        <Heading>What is kept</Heading>
        {library ? (
          <>
            <Words>{`${count(library.pictures, 'picture')}, ${sayBytes(library.bytes)}`}</Words>
            <Words className="text-soft">
              {library.arriving
                ? `${sayNumber(library.arriving)} still coming in`
                : 'Everything that came in is stored.'}
            </Words>
          </>
        ) : null}
      </View>,
    ],
    ...(me?.member?.part === 'relative'
      ? []
      : [
          [
            'done',
            'What was done',
            <View key="done" className="items-start gap-2">
              <Heading>What was done</Heading>
              <Words className="text-soft">
                A diary of everything said and done here. For 30 days it can be taken back.
              </Words>
              <Button label="Open the diary" weight="second" onPress={() => router.push('/done')} />
            </View>,
          ] as [string, string, ReactNode],
        ]),
    ['failed', 'Work that failed', <Troubles key="failed" />],
    ['faces', 'Recognising faces', <Recognition key="faces" />],
    ['disk', 'Where originals lie', <VaultLayout key="disk" />],
    [
      'colours',
      'Colours',
      <View key="colours">
        <Heading>Colours</Heading>
        <View className="flex-row flex-wrap gap-2">
          {SCHEMES.map(([value, name]) => (
            <Chip key={value} label={name} on={scheme === value} onPress={() => setScheme(value)} />
          ))}
        </View>
      </View>,
    ],
    [
      'you',
      'You',
      <View key="you" className="items-start gap-2">
        <Heading>You</Heading>
        <Words>{me?.member ? `${me.member.name}, ${me.member.part}` : ''}</Words>
        <Words className="text-soft">{me?.member?.email}</Words>
        <Button
          label="Sign out"
          weight="second"
          onPress={() => void signOut().then(() => router.replace('/sign-in'), trouble)}
        />
      </View>,
    ],
    [
      'made',
      'What Gemmel is made of',
      <View key="made" className="items-start gap-2">
        <Heading>What Gemmel is made of</Heading>
        <Words className="text-soft">The work of others that ships with it, and under what licence.</Words>
        <Button label="See it" weight="second" onPress={() => router.push('/made-of')} />
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
      <Page title={library?.name ?? 'Household'} narrow>
        {all}
      </Page>
    );
  return (
    <Page title={library?.name ?? 'Household'}>
      <div style={{ display: 'grid', gridTemplateColumns: '190px minmax(0, 720px)', gap: 40 }}>
        <nav aria-label="Sections" style={{ position: 'sticky', top: 20, alignSelf: 'start' }}>
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

/** Work that keeps failing, with its reason, to be tried again. */
function Troubles() {
  const troubles = useAnswer('troubles', {}).data?.troubles ?? [];
  return (
    <View>
      <Heading tone={troubles.length ? 'waiting' : 'settled'} right={troubles.length || ''}>
        Work that failed
      </Heading>
      {troubles.length === 0 ? (
        <Words className="text-soft">
          None. What fails is tried again by itself; what keeps failing is listed here with its reason.
        </Words>
      ) : null}
      {troubles.map((one) => (
        <View key={one.id} className="flex-row items-center gap-3 border-t border-line py-3">
          <View className="min-w-0 flex-1">
            <Words kind="strong">{one.what}</Words>
            <Words kind="small">{`${one.reason} · tried ${count(one.tries, 'time')}, last ${sayWhen(one.at)}`}</Words>
          </View>
          <Button
            label="Try again"
            weight="second"
            onPress={() =>
              void call('retryTrouble', { params: { id: one.id } }).then(
                () => (say('It is being tried again.'), refresh('troubles', 'library')),
                trouble,
              )
            }
          />
        </View>
      ))}
    </View>
  );
}
