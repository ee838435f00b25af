import { plural, t } from '@lingui/core/macro';
import type { Music } from '@gemmel/contract';
import type { ShowSettings } from '@gemmel/core';
import { useRef, useState } from 'react';
import { View } from 'react-native';
import { call, send, wordsOf } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { act, did } from '@/state/acts';
import { say } from '@/state/toast';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Group } from '@/ui/Choice';
import { sayClock } from '@/ui/say';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { Tells } from './Tells';

/** How long a picture may stay, to choose from, in seconds. */
const SECONDS = [3, 5, 8, 15] as const;

/** How a show is played: its order, pace, words, movement and music. */
export function ShowFields({
  settings,
  mayChange,
  endless = false,
  onChange,
}: {
  settings: ShowSettings;
  /** Whether music may be brought in and removed. */
  mayChange: boolean;
  /** Whether it may begin again when it has ended. */
  endless?: boolean;
  onChange: (settings: ShowSettings) => void;
}) {
  const set = (more: Partial<ShowSettings>) => onChange({ ...settings, ...more });
  const group = (label: string, children: React.ReactNode) => <Group label={label}>{children}</Group>;
  return (
    <>
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
      <Tells label={t`Written under pictures`} tells={settings.tells} onChange={(tells) => set({ tells })} />
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
        {endless ? (
          <Switch
            label={t`Begin again at the end`}
            shown
            on={settings.again}
            onTurn={() => set({ again: !settings.again })}
          />
        ) : null}
      </View>
      <MusicList chosen={settings.music} mayChange={mayChange} onChoose={(music) => set({ music })} />
    </>
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
