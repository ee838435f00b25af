import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { makeShelf } from './acts';

/** Makes an album, a shelf, or an album that fills itself; on a shelf when one is given. */
export function MakeSheet({ shelf, onClose }: { shelf: number | null; onClose: () => void }) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const pile = usePile((p) => p.ids);
  const [name, setName] = useState('');
  const make = async (ids: readonly number[]) => {
    const made = await act(
      () => call('makeAlbum', { body: { name: name.trim(), ids: [...ids], shelf } }),
      t`Album “${name.trim()}” made`,
      'albums',
    );
    if (!made) return;
    onClose();
    router.push({ pathname: '/albums/[id]', params: { id: made.id } });
  };
  const build = async () => {
    const made = await makeShelf(name.trim(), shelf);
    if (!made) return;
    onClose();
    router.push({ pathname: '/albums/shelf/[id]', params: { id: made.id } });
  };
  return (
    <Sheet title={t`A new album or shelf`} onClose={onClose}>
      <Field label={t`Name`} value={name} onChangeText={setName} maxLength={160} />
      {pile.length ? (
        <Button
          label={t`An album from the pile (${sayNumber(pile.length)})`}
          icon="pile"
          disabled={!name.trim()}
          onPress={() => void make(pile)}
        />
      ) : null}
      <Button
        label={t`An empty album`}
        weight={pile.length ? 'second' : 'main'}
        disabled={!name.trim()}
        onPress={() => void make([])}
      />
      <Button
        label={t`A shelf for albums`}
        icon="shelf"
        weight="second"
        disabled={!name.trim()}
        onPress={() => void build()}
      />
      <Words kind="small">{t`Or one that fills itself with every picture that fits, now and later:`}</Words>
      <Button
        label={t`A smart album`}
        weight="plum"
        onPress={() => {
          onClose();
          set({ all: [] });
          router.push({ pathname: '/albums/new', params: shelf === null ? {} : { shelf } });
        }}
      />
      <Button
        label={t`The best of a year or a person`}
        weight="second"
        icon="star"
        onPress={() => {
          onClose();
          router.push('/albums/best');
        }}
      />
    </Sheet>
  );
}
