import { t } from '@lingui/core/macro';
import type { ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { wordsOf } from '@/api/client';
import { useWide } from '@/state/wide';
import { Button } from './Button';
import { Rings } from './Rings';
import { Words } from './Words';
import { SIZE } from './tokens';

/** What will be here, and the first act. */
export function Empty({ title, text, children }: { title: string; text: string; children?: ReactNode }) {
  return (
    <View className="items-center gap-3 px-6 py-14">
      <Rings size={64} />
      <Words kind="heading" className="text-center">
        {title}
      </Words>
      <Words className="max-w-note text-center text-soft">{text}</Words>
      {children}
    </View>
  );
}

/** What went wrong, that nothing is lost, and what to do. */
export function Failed({ error, again }: { error: unknown; again?: () => void }) {
  return (
    <View role="alert" className="items-center gap-3 px-6 py-14">
      <Rings size={64} joined={false} />
      <Words kind="heading" className="text-center">{t`That didn’t work`}</Words>
      <Words className="max-w-note text-center text-soft">{wordsOf(error)}</Words>
      {again ? <Button label={t`Try again`} weight="second" onPress={again} /> : null}
    </View>
  );
}

/** While an answer is on its way. */
export function Waiting({ text = t`One moment …` }: { text?: string }) {
  return (
    <View className="items-center px-6 py-14" role="status">
      <Words className="text-soft">{text}</Words>
    </View>
  );
}

/** A page that scrolls, with its title and an act at the right. */
export function Page({
  title,
  right,
  narrow = false,
  children,
}: {
  title?: string;
  right?: ReactNode;
  narrow?: boolean;
  children: ReactNode;
}) {
  const wide = useWide();
  return (
    <ScrollView
      style={{ flex: 1 }}
      contentContainerStyle={{
        paddingHorizontal: wide ? SIZE.brim : SIZE.edge,
        paddingTop: title ? (wide ? 24 : 14) : 0,
        paddingBottom: 130,
        width: '100%',
        maxWidth: narrow ? 720 : 1180,
        alignSelf: wide ? 'flex-start' : 'center',
      }}
    >
      {title ? (
        <View className="mb-3 min-h-touch flex-row items-center justify-between gap-3">
          <Words kind="title" className="min-w-0 flex-1">
            {title}
          </Words>
          {right}
        </View>
      ) : null}
      {children}
    </ScrollView>
  );
}
