import { plural, t } from '@lingui/core/macro';
import type { Music, SavedShow, ShowSource } from '@gemmel/contract';
import type { ShowSettings } from '@gemmel/core';
import { useRef, useState } from 'react';
import { View } from 'react-native';
import { call, send, wordsOf } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { act, did } from '@/state/acts';
import { say } from '@/state/toast';
import { useMe } from '@/features/account/session';
import { ShareSheet } from '@/features/share/ShareSheet';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayClock } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';

/** How long a picture may stay, to choose from, in seconds. */
const SECONDS = [3, 5, 8, 15] as const;

/** How a show is played: its order, pace, words, movement and music; and keeping it with all that. */
export function ShowSheet({
  source,
  title,
  saved,
  settings,
  mayKeep,
  onSettings,
  onClose,
}: {
  source: ShowSource;
  title: string;
  saved: SavedShow | null;
  settings: ShowSettings;
  mayKeep: boolean;
  onSettings: (settings: ShowSettings) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(saved?.name ?? title);
  const [changed, setChanged] = useState(false);
  const [sharing, setSharing] = useState(false);
  const keeper = useMe().data?.member?.part === 'keeper';
  const set = (more: Partial<ShowSettings>) => {
    setChanged(true);
    onSettings({ ...settings, ...more });
  };
  const tell = (more: Partial<ShowSettings['tells']>) => set({ tells: { ...settings.tells, ...more } });
  const keep = async () => {
    const done = saved
      ? await act(
          () => call('changeShow', { params: { id: saved.id }, body: { name: name.trim(), settings } }),
          t`Show changed`,
          'shows',
        )
      : await act(
          () => call('makeShow', { body: { name: name.trim(), source, settings } }),
          [t`Show “${name.trim()}” kept`, t`It is played by one tap under Albums.`],
          'shows',
        );
    if (done) onClose();
  };
  const remove = async () => {
    const done = await act(
      () => call('removeShow', { params: { id: saved!.id } }),
      [t`Show “${saved!.name}” removed`, t`Its pictures and its music stay.`],
      'shows',
    );
    if (done) onClose();
  };
  const group = (label: string, children: React.ReactNode) => (
    <View className="gap-0.5">
      <Words kind="small">{label}</Words>
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={label}>
        {children}
      </View>
    </View>
  );
  if (sharing && saved) return <ShareSheet what={{ show: saved.id }} title={saved.name} onClose={onClose} />;
  return (
    <Sheet title={t`How it is played`} onClose={onClose}>
      {group(
        t`Order`,
        <>
          <Chip label={t`As it stands`} on={settings.order === 'given'} onPress={() => set({ order: 'given' })} />
          <Chip label={t`By time`} on={settings.order === 'time'} onPress={() => set({ order: 'time' })} />
          <Chip label={t`Shuffled`} on={settings.order === 'shuffled'} onPress={() => set({ order: 'shuffled' })} />
        </>,
      )}
      {group(
        t`How long each picture stays`,
        <>
          {SECONDS.map((seconds) => (
            <Chip
              key={seconds}
              label={plural(seconds, { one: '# second', other: '# seconds' })}
              on={settings.seconds === seconds}
              onPress={() => set({ seconds })}
            />
          ))}
          <Chip
            label={t`As long as the music`}
            on={settings.seconds === null}
            onPress={() => set({ seconds: settings.seconds === null ? 5 : null })}
          />
        </>,
      )}
      {group(
        t`Written under pictures`,
        <>
          <Chip
            label={t`Captions`}
            on={settings.tells.caption}
            onPress={() => tell({ caption: !settings.tells.caption })}
          />
          <Chip label={t`Dates`} on={settings.tells.date} onPress={() => tell({ date: !settings.tells.date })} />
          <Chip label={t`Places`} on={settings.tells.place} onPress={() => tell({ place: !settings.tells.place })} />
          <Chip label={t`Names`} on={settings.tells.names} onPress={() => tell({ names: !settings.tells.names })} />
        </>,
      )}
      <View>
        <Switch
          label={t`Move and enlarge gently; faces stay in view`}
          shown
          on={settings.movement === 'gentle'}
          onTurn={() => set({ movement: settings.movement === 'gentle' ? 'still' : 'gentle' })}
        />
        <Switch
          label={t`Two together where there is room`}
          shown
          on={settings.pairs}
          onTurn={() => set({ pairs: !settings.pairs })}
        />
        <Switch
          label={t`Cards for the beginning, the end and chapters`}
          shown
          on={settings.cards}
          onTurn={() => set({ cards: !settings.cards })}
        />
        <Switch
          label={t`Begin again at the end`}
          shown
          on={settings.again}
          onTurn={() => set({ again: !settings.again })}
        />
      </View>
      <MusicList chosen={settings.music} mayChange={mayKeep} onChoose={(music) => set({ music })} />
      {mayKeep ? (
        <View className="gap-2 border-t border-line pt-3">
          <Field label={t`Name of the show`} value={name} onChangeText={setName} maxLength={160} />
          <Button
            label={saved ? t`Save the changes` : t`Keep this show`}
            disabled={!name.trim() || Boolean(saved && !changed && name.trim() === saved.name)}
            onPress={() => void keep()}
          />
          {saved && keeper ? (
            <Button label={t`Share this show`} weight="second" icon="send" onPress={() => setSharing(true)} />
          ) : null}
          {saved ? <Button label={t`Remove this show`} weight="brick" onPress={() => void remove()} /> : null}
        </View>
      ) : null}
    </Sheet>
  );
}

/** The household's own music: pieces are chosen in the order they are tapped; new ones are brought in from files. */
function MusicList({
  chosen,
  mayChange,
  onChoose,
}: {
  chosen: readonly number[];
  mayChange: boolean;
  onChoose: (music: number[]) => void;
}) {
  const pieces = useAnswer('music', {}).data?.music ?? [];
  const input = useRef<HTMLInputElement>(null);
  const [bringing, setBringing] = useState<string | null>(null);
  const bring = async (files: FileList | null) => {
    let now = [...chosen];
    for (const file of files ?? []) {
      setBringing(file.name);
      try {
        const response = await send(`/api/music?name=${encodeURIComponent(file.name)}`, { method: 'POST', body: file });
        const { music, act: done } = (await response.json()) as { music: Music; act: number | null };
        now = [...now.filter((id) => id !== music.id), music.id];
        onChoose(now);
        did(t`“${music.title}” brought in`, { act: done });
      } catch (error) {
        say(wordsOf(error));
      }
    }
    setBringing(null);
    refreshTopics('shows');
    if (input.current) input.current.value = '';
  };
  const toggle = (id: number) => onChoose(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]);
  const remove = async (piece: Music) => {
    const done = await act(
      () => call('removeMusic', { params: { id: piece.id } }),
      t`“${piece.title}” removed from the music`,
      'shows',
    );
    if (done) onChoose(chosen.filter((one) => one !== piece.id));
  };
  return (
    <View className="gap-1">
      <Words kind="small">{t`Music`}</Words>
      {pieces.length === 0 ? (
        <Words kind="small">{t`None yet. Bring in files of your own: MP3, M4A, OGG or FLAC.`}</Words>
      ) : null}
      {pieces.map((piece) => {
        const at = chosen.indexOf(piece.id);
        return (
          <View key={piece.id} className="flex-row items-center gap-1 border-t border-line">
            <Chip
              label={at < 0 ? piece.title : `${at + 1}. ${piece.title}`}
              on={at >= 0}
              onPress={() => toggle(piece.id)}
            />
            <Words kind="small" className="min-w-0 flex-1" numberOfLines={1}>
              {[piece.artist, sayClock(piece.seconds)].filter(Boolean).join(' · ')}
            </Words>
            {mayChange ? (
              <IconButton
                name="away"
                size={15}
                tone="soft"
                label={t`Remove “${piece.title}” from the music`}
                onPress={() => void remove(piece)}
              />
            ) : null}
          </View>
        );
      })}
      {mayChange ? (
        <>
          <input
            ref={input}
            type="file"
            multiple
            accept="audio/mpeg,audio/mp4,audio/ogg,audio/flac,.mp3,.m4a,.ogg,.flac"
            aria-label={t`Pieces of music`}
            onChange={(event) => void bring(event.target.files)}
            style={{ display: 'none' }}
          />
          <Button
            label={bringing === null ? t`Bring in music` : t`Bringing in ${bringing} …`}
            weight="second"
            icon="plus"
            disabled={bringing !== null}
            onPress={() => input.current?.click()}
          />
        </>
      ) : null}
    </View>
  );
}
