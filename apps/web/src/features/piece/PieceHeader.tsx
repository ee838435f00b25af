import { t } from '@lingui/core/macro';
import type { Piece } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { useWide } from '@/state/wide';
import { MakingBar } from './MakingBar';
import { PieceSheet } from './PieceSheet';
import { kindWords } from './words';

/** The top of a piece's page: what it is, and its making; beside each other where there is room. */
export function PieceTop({ piece, about, label }: { piece: Piece; about: string; label: string }) {
  const wide = useWide();
  return (
    <View className={wide ? 'flex-row items-start gap-8' : ''}>
      <View className={wide ? 'min-w-0 flex-1' : ''}>
        <PieceHeader piece={piece} about={about} />
      </View>
      <View className={wide ? 'w-1/2 pt-4' : ''}>
        <MakingBar piece={piece} label={label} />
      </View>
    </View>
  );
}

/** What a piece is called, what it is and of what, and how it is made. */
function PieceHeader({ piece, about }: { piece: Piece; about: string }) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const kind = kindWords(piece.settings.kind).name;
  return (
    <View className="mb-4 gap-2 pt-4">
      <Words kind="title">{piece.name}</Words>
      <Words kind="small">{[piece.of ? t`${kind} of “${piece.of}”` : kind, about].filter(Boolean).join(' · ')}</Words>
      <View className="flex-row flex-wrap gap-2">
        <Chip label={t`How it is made`} icon="edit" onPress={() => setOpen(true)} />
        <Chip label={t`All that was made`} onPress={() => router.push('/making')} />
      </View>
      {open ? (
        <PieceSheet piece={piece} onClose={() => setOpen(false)} onGone={() => router.replace('/making')} />
      ) : null}
    </View>
  );
}
