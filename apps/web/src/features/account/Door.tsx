import type { ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { Rings } from '@/ui/Rings';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';
import { trouble } from '@/state/toast';
import { LanguageChips } from './LanguageChips';
import { chooseLanguage } from './spoken';

/** What every page before the library has: our mark, a narrow column, the languages to choose from. */
export function Door({ title = 'Gemmel', children }: { title?: string; children: ReactNode }) {
  return (
    <main style={{ height: '100%', display: 'flex' }}>
      <ScrollView className="flex-1" contentContainerClassName="w-full max-w-note gap-4 self-center px-5 pb-5 pt-14">
        <View className="gap-3">
          <Rings size={74} />
          <Words kind="title">{title}</Words>
        </View>
        {children}
        <LanguageChips chosen={language()} onChoose={(next) => void chooseLanguage(next, false).catch(trouble)} />
      </ScrollView>
    </main>
  );
}

/** A form that is sent by its button or by Enter, with what was wrong below it. */
export function DoorForm({ onSend, children }: { onSend: () => void; children: ReactNode }) {
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onSend();
      }}
    >
      <View className="gap-4">{children}</View>
    </form>
  );
}

/** What was wrong, read out at once. */
export function Wrong({ text }: { text: string }) {
  return text ? (
    <Words role="alert" className="font-medium text-brick">
      {text}
    </Words>
  ) : null;
}
