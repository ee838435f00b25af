import type { SafePlace } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh } from '@/api/query';
import { Wrong } from '@/features/account/Door';
import { say } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { OftenChips } from './PlaceSheet';

type Kind = SafePlace['kind'];

const KINDS: [Kind, MessageDescriptor, MessageDescriptor][] = [
  [
    'folder',
    msg`A disk`,
    msg`A second disk, or a folder of another machine that shows up here as one. It may come and go.`,
  ],
  ['machine', msg`Another computer`, msg`Any computer that lets you in by SSH, at your sister’s for example.`],
  ['bucket', msg`A bucket`, msg`Rented space that speaks S3. Nobody there can read what you keep.`],
];
const WHERE: Record<Kind, [MessageDescriptor, string]> = {
  folder: [msg`Folder on this machine`, '/media/second-disk/gemmel'],
  machine: [msg`Account, machine and folder`, 'pictures@machine.example:22/home/pictures/gemmel'],
  bucket: [msg`Address of the bucket`, 'https://storage.example/our-pictures'],
};

/** Adds a place that is to hold a second copy of everything. */
export function AddPlace({ onClose }: { onClose: () => void }) {
  const [kind, setKind] = useState<Kind>('folder');
  const [name, setName] = useState('');
  const [location, setLocation] = useState('');
  const [often, setOften] = useState<SafePlace['often']>('daily');
  const [access, setAccess] = useState('');
  const [secret, setSecret] = useState('');
  const [own, setOwn] = useState(false);
  const [phrase, setPhrase] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [where, example] = WHERE[kind];
  const add = async () => {
    setBusy(true);
    setWrong('');
    try {
      await call('addSafePlace', {
        body: {
          kind,
          name: name.trim(),
          location: location.trim(),
          often,
          hour: 2,
          ...(own ? { phrase } : {}),
          ...(kind === 'bucket' ? { access: access.trim(), secret: secret.trim() } : {}),
        },
      });
      refresh('safekeeping');
      say(t`“${name.trim()}” added`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
      setBusy(false);
    }
  };
  return (
    <Sheet title={t`Add a place`} onClose={onClose}>
      <View className="flex-row flex-wrap gap-2" role="group" aria-label={t`What kind of place`}>
        {KINDS.map(([value, said]) => (
          <Chip
            key={value}
            label={i18n._(said)}
            on={kind === value}
            onPress={() => {
              setKind(value);
              if (value !== 'folder' && often === 'shows') setOften('daily');
            }}
          />
        ))}
      </View>
      <Words className="text-soft">{i18n._(KINDS.find(([value]) => value === kind)![2])}</Words>
      <Field
        label={t`What you call it`}
        placeholder={t`The disk in the hall cupboard`}
        value={name}
        onChangeText={setName}
        maxLength={80}
      />
      <Field
        label={i18n._(where)}
        placeholder={example}
        value={location}
        onChangeText={setLocation}
        autoCapitalize="none"
        autoComplete="off"
        spellCheck={false}
      />
      {kind === 'bucket' ? (
        <>
          <Field label={t`Key`} value={access} onChangeText={setAccess} autoCapitalize="none" autoComplete="off" />
          <Field
            label={t`Secret of the key`}
            value={secret}
            onChangeText={setSecret}
            secureTextEntry
            autoComplete="off"
          />
        </>
      ) : null}
      <OftenChips kind={kind} often={often} onOften={setOften} />
      <Words className="text-soft">{t`Everything is encrypted before it leaves. Gemmel makes the pass phrase; it stands on the recovery sheet.`}</Words>
      <Chip label={t`I have a phrase already`} on={own} onPress={() => setOwn(!own)} />
      {own ? (
        <Field
          label={t`Pass phrase, 12 characters or more`}
          value={phrase}
          onChangeText={setPhrase}
          secureTextEntry
          autoComplete="off"
        />
      ) : null}
      <Wrong text={wrong} />
      <Button
        label={busy ? t`Asking there …` : t`Add it`}
        disabled={busy || !name.trim() || !location.trim() || (own && phrase.length < 12)}
        onPress={() => void add()}
      />
    </Sheet>
  );
}
