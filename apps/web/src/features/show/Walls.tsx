import { t } from '@lingui/core/macro';
import type { Wall } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** Screens that play a show without anybody signed in: a television, a tablet on the wall. */
export function Walls() {
  const walls = useAnswer('walls', {}).data?.walls ?? [];
  const [adding, setAdding] = useState(false);
  const [ending, setEnding] = useState<Wall | null>(null);
  const end = async (wall: Wall) => {
    try {
      await call('endWall', { params: { id: wall.id } });
      refreshTopics('shows');
      say(t`“${wall.name}” plays nothing from now on`);
      setEnding(null);
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <View className="mt-6">
      <Heading right={walls.length || ''}>{t`Screens`}</Heading>
      <Words className="mb-3 text-soft">{t`A television or tablet plays a show by itself and follows what it is of.`}</Words>
      {walls.map((wall) => (
        <Pressable
          key={wall.id}
          role="button"
          onPress={() => setEnding(wall)}
          className="min-h-field justify-center border-t border-line py-2"
        >
          <Words>{wall.name}</Words>
          <Words kind="small">
            {[
              wall.plays === null ? t`what it played is no longer here` : t`plays “${wall.plays}”`,
              wall.seen ? t`last seen ${sayWhen(wall.seen)}` : t`not seen yet`,
            ].join(' · ')}
          </Words>
        </Pressable>
      ))}
      <View className="mt-3 flex-row">
        <Button label={t`Put a show on a screen`} weight="second" icon="play" onPress={() => setAdding(true)} />
      </View>
      {adding ? <AddSheet onClose={() => setAdding(false)} /> : null}
      {ending ? (
        <Sheet title={ending.name} onClose={() => setEnding(null)}>
          <Words className="text-soft">{t`Taken off, it shows nothing from then on. Pictures and shows stay as they are.`}</Words>
          <Button label={t`Take it off the wall`} weight="brick" onPress={() => void end(ending)} />
        </Sheet>
      ) : null}
    </View>
  );
}

type Plays = { show: number } | { album: number };

/** From so many shows and albums on they can be searched. */
const MANY = 12;

function AddSheet({ onClose }: { onClose: () => void }) {
  const shows = useAnswer('shows', {}).data?.shows ?? [];
  const albums = useAnswer('albums', {}).data?.albums ?? [];
  const [code, setCode] = useState('');
  const [name, setName] = useState('');
  const [plays, setPlays] = useState<Plays | null>(null);
  const [typed, setTyped] = useState('');
  const found = (one: { name: string }) => fold(one.name).includes(fold(typed));
  const digits = code.replace(/\D/g, '');
  const confirm = async () => {
    try {
      await call('confirmWall', { body: { code: digits, name: name.trim(), plays: plays! } });
      refreshTopics('shows');
      say(t`“${name.trim()}” plays it in a moment`);
      onClose();
    } catch (error) {
      trouble(error);
    }
  };
  const isOn = (one: Plays) => JSON.stringify(one) === JSON.stringify(plays);
  return (
    <Sheet title={t`Put a show on a screen`} onClose={onClose}>
      <Words className="text-soft">
        {t`Open ${`${window.location.host}/show`} on the television or tablet. It shows a code of six digits:`}
      </Words>
      <Field
        label={t`The code on the screen`}
        value={code}
        onChangeText={setCode}
        inputMode="numeric"
        autoComplete="off"
        maxLength={9}
      />
      <Field
        label={t`What the screen is called`}
        value={name}
        onChangeText={setName}
        maxLength={160}
        placeholder={t`The one in the kitchen`}
      />
      {shows.length + albums.length > MANY ? (
        <Field
          label={t`Find a show or an album`}
          shown={false}
          placeholder={t`Find a show or an album`}
          value={typed}
          onChangeText={setTyped}
        />
      ) : null}
      {shows.length ? (
        <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Shows`}>
          {shows.filter(found).map((show) => (
            <Chip
              key={show.id}
              label={show.name}
              on={isOn({ show: show.id })}
              onPress={() => setPlays({ show: show.id })}
            />
          ))}
        </View>
      ) : null}
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Albums`}>
        {albums.filter(found).map((album) => (
          <Chip
            key={album.id}
            label={album.name}
            tone={album.kind === 'smart' ? 'plum' : 'juniper'}
            on={isOn({ album: album.id })}
            onPress={() => setPlays({ album: album.id })}
          />
        ))}
      </View>
      <Words kind="small">{t`Whoever stands before the screen sees these pictures, with the words the show tells.`}</Words>
      <Button
        label={t`Play it there`}
        disabled={digits.length !== 6 || !name.trim() || plays === null}
        onPress={() => void confirm()}
      />
    </Sheet>
  );
}
