import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { whenUndone } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Icon } from '@/ui/Icon';
import type { Token } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { ActSheet, SHEET_ACTS, type SheetAct } from './acts';
import { lazily } from '@/ui/lazily';

const ActMenu = lazily(async () => (await import('./ActMenu')).ActMenu);

/** What can be done with the pile: a row of drawings with their words, and the sheets they open. */
export function PileActs({ tone = 'ink' }: { tone?: Token }) {
  const ids = usePile((pile) => pile.ids);
  const putDown = usePile((pile) => pile.putDown);
  const [open, setOpen] = useState<SheetAct | null>(null);
  const [more, setMore] = useState(false);
  const close = () => setOpen(null);
  // What lies in an album is safe there: it need not stay in hand. Taking the album back takes it up again.
  const made = (did: number | null) => {
    const before = [...ids];
    putDown(true);
    if (did !== null) whenUndone(did, () => usePile.getState().add(before));
  };
  // Two rows of four on a phone, one on a wide screen.
  const box = `min-h-field items-center justify-center gap-0.5 px-1 active:opacity-70 ${tone === 'bright' ? 'min-w-12' : 'min-w-16 basis-[22%]'}`;
  const word = tone === 'bright' ? 'text-bright' : 'text-ink';
  return (
    <View className={`flex-row items-center justify-between gap-1 ${tone === 'bright' ? '' : 'flex-wrap'}`}>
      {SHEET_ACTS.map(([name, label, icon]) => (
        <Pressable key={name} role="button" onPress={() => setOpen(name)} className={box}>
          <Icon name={icon} size={20} tone={tone} />
          <Words kind="tiny" className={word}>
            {i18n._(label)}
          </Words>
        </Pressable>
      ))}
      <Pressable role="button" aria-label={t`More for the pile`} onPress={() => setMore(true)} className={box}>
        <Icon name="more" size={20} tone={tone} />
        <Words kind="tiny" className={word}>{t`More`}</Words>
      </Pressable>
      <Pressable role="button" onPress={() => putDown()} className={box}>
        <Icon name="down" size={20} tone={tone} />
        <Words kind="tiny" className={word}>{t`Put down`}</Words>
      </Pressable>
      {open ? <ActSheet act={open} ids={ids} onClose={close} onMade={made} /> : null}
      {more ? <ActMenu ids={ids} onClose={() => setMore(false)} /> : null}
    </View>
  );
}
