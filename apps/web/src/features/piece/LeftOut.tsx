import { plural, t } from '@lingui/core/macro';
import type { BookLayout, Piece } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { takeIn } from './edits';

/** What is not in the book: pictures that show nearly the same as another, and those somebody left out. A touch takes one in. */
export function LeftOut({ piece, layout }: { piece: Pick<Piece, 'id'>; layout: BookLayout }) {
  const [open, setOpen] = useState(false);
  const { doubles, out, edits } = layout;
  const n = doubles.length + out.length;
  if (n === 0) return null;
  const take = (id: number) =>
    act(
      () => call('changePiece', { params: { id: piece.id }, body: { edits: takeIn(edits, id), seen: layout.seen } }),
      t`Taken into the book`,
      'pieces',
    );
  const some = (label: string, list: readonly { id: number; sha: string }[]) =>
    list.length ? (
      <View className="gap-2">
        <Words kind="small">{label}</Words>
        <View className="flex-row flex-wrap gap-2">
          {list.map(({ id, sha }) => (
            <Pressable
              key={id}
              role="button"
              aria-label={t`Take this picture into the book`}
              onPress={() => void take(id)}
            >
              <img
                src={smallOf(sha)}
                alt=""
                loading="lazy"
                style={{
                  width: SIZE.strip,
                  height: SIZE.strip,
                  objectFit: 'cover',
                  borderRadius: CORNER.picture,
                  display: 'block',
                }}
              />
            </Pressable>
          ))}
        </View>
      </View>
    ) : null;
  return (
    <View className="items-start">
      <Button
        label={plural(n, { one: '# picture is not in the book', other: '# pictures are not in the book' })}
        weight="quiet"
        className="px-0"
        onPress={() => setOpen(true)}
      />
      {open ? (
        <Sheet title={t`Not in the book`} onClose={() => setOpen(false)}>
          <Words>{t`Tap one to take it in.`}</Words>
          {some(t`Nearly the same as another`, doubles)}
          {some(t`Left out by hand`, out)}
        </Sheet>
      ) : null}
    </View>
  );
}
