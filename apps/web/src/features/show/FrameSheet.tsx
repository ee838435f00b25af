import { t } from '@lingui/core/macro';
import type { Frame, FrameSettings, ShowSource } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { Wrong } from '@/features/account/Door';
import { Choice } from '@/ui/Choice';
import { copyLink } from '@/state/copyLink';
import { say } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

const PLAIN: FrameSettings = {
  width: 1280,
  height: 800,
  fit: 'fill',
  order: 'shuffled',
  seconds: 60,
  quiet: { from: 22, to: 7 },
};

/** Feeding a frame: its size, order and quiet hours; and, once it is fed, the address that is typed into it. */
export function FrameSheet({
  source,
  title,
  frame,
  onClose,
}: {
  source: ShowSource;
  title: string;
  frame: Frame | null;
  onClose: () => void;
}) {
  const [kept, setKept] = useState(frame);
  const [name, setName] = useState(frame?.name ?? title);
  const [settings, setSettings] = useState(frame?.settings ?? PLAIN);
  const [wrong, setWrong] = useState<string | null>(null);
  const set = (more: Partial<FrameSettings>) => setSettings({ ...settings, ...more });
  const save = async () => {
    setWrong(null);
    try {
      setKept(
        kept
          ? await call('changeFrame', { params: { id: kept.id }, body: { name: name.trim(), settings } })
          : await call('makeFrame', { body: { name: name.trim(), source, settings } }),
      );
      refreshTopics('shows');
      if (frame) onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  const end = async () => {
    try {
      await call('endFrame', { params: { id: kept!.id } });
      refreshTopics('shows');
      say(t`“${kept!.name}” is disconnected. Its address no longer works.`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  const size = (width: number, height: number) => `${width}x${height}`;
  const address = kept?.path ? `${location.origin}${kept.path}` : null;
  return (
    <Sheet title={t`Digital frame`} onClose={onClose}>
      {address ? (
        <View className="gap-2 rounded-card border border-line bg-card p-4">
          <Words>{t`Type the first address into the frame, or the second if it wants one picture at a time:`}</Words>
          <Words kind="small" selectable>
            {address}
          </Words>
          <Words kind="small" selectable>
            {`${address}/next.jpg`}
          </Words>
          <Button label={t`Copy the address`} weight="second" icon="copy" onPress={() => void copyLink(address)} />
          <Words kind="small">{t`Whoever has it can see these pictures, and nothing else.`}</Words>
        </View>
      ) : null}
      <Field label={t`What it is called`} value={name} onChangeText={setName} maxLength={160} />
      <Choice
        label={t`Its size, in pixels`}
        of={[
          [size(1280, 800), t`1280 × 800`],
          [size(1024, 768), t`1024 × 768`],
          [size(1920, 1080), t`1920 × 1080`],
          [size(800, 1280), t`800 × 1280, upright`],
        ]}
        value={size(settings.width, settings.height)}
        onChoose={(chosen) => {
          const [width, height] = chosen.split('x').map(Number) as [number, number];
          set({ width, height });
        }}
      />
      <Choice
        label={t`Pictures of another shape`}
        of={[
          ['fill', t`Fill it, with faces whole`],
          ['whole', t`Are shown whole`],
        ]}
        value={settings.fit}
        onChoose={(fit) => set({ fit })}
      />
      <Choice
        label={t`Order`}
        of={[
          ['given', t`As it stands`],
          ['time', t`By time`],
          ['shuffled', t`Shuffled`],
        ]}
        value={settings.order}
        onChoose={(order) => set({ order })}
      />
      <Choice
        label={t`How long each picture stays`}
        of={[
          [15, t`15 seconds`],
          [60, t`A minute`],
          [600, t`10 minutes`],
          [3600, t`An hour`],
        ]}
        value={settings.seconds}
        onChoose={(seconds) => set({ seconds })}
      />
      <Choice
        label={t`Dark at night`}
        of={[
          ['no', t`Never`],
          ['22-7', t`22 to 7`],
          ['20-8', t`20 to 8`],
        ]}
        value={settings.quiet ? `${settings.quiet.from}-${settings.quiet.to}` : 'no'}
        onChoose={(chosen) => {
          const [from, to] = chosen.split('-').map(Number) as [number, number];
          set({ quiet: chosen === 'no' ? null : { from, to } });
        }}
      />
      <Wrong text={wrong ?? ''} />
      <Button label={kept ? t`Save` : t`Connect it`} disabled={!name.trim()} onPress={() => void save()} />
      {kept ? <Button label={t`Disconnect it`} weight="brick" onPress={() => void end()} /> : null}
    </Sheet>
  );
}
