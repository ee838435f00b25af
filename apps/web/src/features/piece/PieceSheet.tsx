import { t } from '@lingui/core/macro';
import type { Piece, PieceSettings } from '@gemmel/contract';
import { PLAIN_BOOK, PLAIN_BUNDLE, PLAIN_CALENDAR, PLAIN_OUT, PLAIN_SHOW } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { FrameSheet } from '@/features/show/FrameSheet';
import { act } from '@/state/acts';
import type { MakingOf } from '@/state/making';
import { language } from '@/words/speak';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { BookFields } from './BookFields';
import { FilmFields } from './FilmFields';
import { BundleFields, OutFields } from './OutFields';
import { CalendarFields, CardFields, CollageFields, PrintFields } from './SheetFields';
import { kindWords, KINDS } from './words';

/** The country a browser says it is in, if any: holidays are its. */
const countryHere = (): string | null => /-([A-Za-z]{2})\b/.exec(navigator.language)?.[1]?.toUpperCase() ?? null;

/** How each kind is made when nobody has said otherwise. */
function plainOf(kind: PieceSettings['kind']): PieceSettings {
  switch (kind) {
    case 'book':
      return { kind, ...PLAIN_BOOK, language: language() };
    case 'prints':
      return {
        kind,
        language: language(),
        size: '10x15',
        paper: 'own',
        border: false,
        date: false,
        copies: 1,
        as: 'pdf',
        finish: 'glossy',
      };
    case 'collage':
      return { kind, language: language(), paper: 'A4 wide', gap: 4, background: '#f6f1e7', title: '', as: 'pdf' };
    case 'card':
      return { kind, language: language(), paper: 'A6', background: '#fffbf3', title: '', words: '', as: 'pdf' };
    case 'calendar':
      return {
        kind,
        ...PLAIN_CALENDAR,
        language: language(),
        year: new Date().getFullYear() + 1,
        country: countryHere(),
      };
    case 'film':
      return { kind, language: language(), show: PLAIN_SHOW, lines: 1080, shape: 'wide', sound: true };
    case 'bundle':
      return { kind, ...PLAIN_BUNDLE, language: language() };
    case 'out':
      return { kind, ...PLAIN_OUT, language: language() };
  }
}

/** How each kind of piece is made, to be changed. */
function Fields({ settings, onChange }: { settings: PieceSettings; onChange: (settings: PieceSettings) => void }) {
  switch (settings.kind) {
    case 'book':
      return <BookFields settings={settings} onChange={onChange} />;
    case 'prints':
      return <PrintFields settings={settings} onChange={onChange} />;
    case 'collage':
      return <CollageFields settings={settings} onChange={onChange} />;
    case 'card':
      return <CardFields settings={settings} onChange={onChange} />;
    case 'calendar':
      return <CalendarFields settings={settings} onChange={onChange} />;
    case 'film':
      return <FilmFields settings={settings} onChange={onChange} />;
    case 'bundle':
      return <BundleFields settings={settings} onChange={onChange} />;
    case 'out':
      return <OutFields settings={settings} onChange={onChange} />;
  }
}

/** What can be made of some pictures: first what, then how. A piece made before lends its making. */
export function NewPiece({ source, title, show, onClose }: MakingOf & { onClose: () => void }) {
  const router = useRouter();
  const pieces = useAnswer('pieces', {}).data?.pieces ?? [];
  const [settings, setSettings] = useState<PieceSettings | null>(() => {
    const film = plainOf('film');
    return show && film.kind === 'film' ? { ...film, show } : null;
  });
  const [name, setName] = useState(title);
  const keeper = useMe().data?.member?.part === 'keeper';
  const [feeding, setFeeding] = useState(false);
  const begin = async () => {
    const done = await act(
      () => call('makePiece', { body: { name: name.trim(), source, settings: settings! } }),
      t`“${name.trim()}” begun`,
      'pieces',
    );
    if (!done) return;
    onClose();
    router.push({ pathname: '/piece/[id]', params: { id: done.id } });
  };
  if (feeding) return <FrameSheet source={source} title={title} frame={null} onClose={onClose} />;
  if (!settings)
    return (
      <Sheet title={t`Make something of these`} onClose={onClose}>
        {KINDS.map((kind) => (
          <View key={kind} className="gap-1 border-t border-line pt-3">
            <Words kind="strong">{kindWords(kind).name}</Words>
            <Words className="text-soft">{kindWords(kind).about}</Words>
            <View className="flex-row flex-wrap gap-2">
              <Button
                label={t`Begin`}
                weight="second"
                className="min-h-touch"
                onPress={() => setSettings(plainOf(kind))}
              />
              {pieces
                .filter((piece) => piece.settings.kind === kind)
                .slice(0, 3)
                .map((piece) => (
                  <Chip key={piece.id} label={t`As “${piece.name}”`} onPress={() => setSettings(piece.settings)} />
                ))}
            </View>
          </View>
        ))}
        {keeper ? (
          <View className="gap-1 border-t border-line pt-3">
            <Words kind="strong">{t`Digital frame`}</Words>
            <Words className="text-soft">{t`A frame on a shelf shows these, sized for it, and follows what changes.`}</Words>
            <Button
              label={t`Connect a frame`}
              weight="second"
              className="min-h-touch self-start"
              onPress={() => setFeeding(true)}
            />
          </View>
        ) : null}
      </Sheet>
    );
  return (
    <Sheet title={kindWords(settings.kind).name} onClose={onClose}>
      <Field label={t`What it is called`} value={name} onChangeText={setName} maxLength={160} />
      <Fields settings={settings} onChange={setSettings} />
      <Button label={t`Begin`} disabled={!name.trim()} onPress={() => void begin()} />
    </Sheet>
  );
}

/** How a piece is made: its name and settings; and removing it. */
export function PieceSheet({ piece, onClose, onGone }: { piece: Piece; onClose: () => void; onGone: () => void }) {
  const [name, setName] = useState(piece.name);
  const [settings, setSettings] = useState(piece.settings);
  const save = async () => {
    const done = await act(
      () => call('changePiece', { params: { id: piece.id }, body: { name: name.trim(), settings } }),
      t`Changed how “${name.trim()}” is made`,
      'pieces',
    );
    if (done) onClose();
  };
  const remove = async () => {
    const done = await act(
      () => call('removePiece', { params: { id: piece.id } }),
      [t`“${piece.name}” removed`, t`Its pictures stay.`],
      'pieces',
    );
    if (!done) return;
    onClose();
    onGone();
  };
  return (
    <Sheet title={t`How it is made`} onClose={onClose}>
      <Field label={t`What it is called`} value={name} onChangeText={setName} maxLength={160} />
      <Fields settings={settings} onChange={setSettings} />
      <Button label={t`Save`} disabled={!name.trim()} onPress={() => void save()} />
      <Button label={t`Remove it`} weight="brick" onPress={() => void remove()} />
    </Sheet>
  );
}
