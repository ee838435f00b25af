import { t } from '@lingui/core/macro';
import type { PieceSettings } from '@gemmel/contract';
import { PAGES, type PageSize } from '@gemmel/core';
import { View } from 'react-native';
import { Tells } from '@/features/show/Tells';
import { Switch } from '@/ui/Switch';
import { Choice } from '@/ui/Choice';
import { paperWords } from './words';

type Book = Extract<PieceSettings, { kind: 'book' }>;

/** How a book is made. */
export function BookFields({ settings, onChange }: { settings: Book; onChange: (settings: Book) => void }) {
  const set = (more: Partial<Book>) => onChange({ ...settings, ...more });
  return (
    <>
      <Choice
        label={t`Pages`}
        of={(Object.keys(PAGES) as PageSize[]).map((paper) => [paper, paperWords(paper)] as const)}
        value={settings.paper}
        onChoose={(paper) => set({ paper })}
      />
      <Choice
        label={t`Chapters`}
        of={[
          ['events', t`Events`],
          ['months', t`Months`],
          ['album', t`As in the album`],
          ['none', t`None`],
        ]}
        value={settings.chapters}
        onChoose={(chapters) => set({ chapters })}
      />
      <Choice
        label={t`Pictures on a page`}
        of={[
          ['airy', t`Few`],
          ['even', t`Some`],
          ['full', t`Many`],
        ]}
        value={settings.fill}
        onChoose={(fill) => set({ fill })}
      />
      <Tells label={t`Below the pictures`} tells={settings.tells} onChange={(tells) => set({ tells })} />
      <View>
        <Switch label={t`Maps of journeys`} shown on={settings.maps} onTurn={() => set({ maps: !settings.maps })} />
        <Switch
          label={t`People and their years at the end`}
          shown
          on={settings.people}
          onTurn={() => set({ people: !settings.people })}
        />
        <Switch
          label={t`Who is on which page`}
          shown
          on={settings.index}
          onTurn={() => set({ index: !settings.index })}
        />
        <Switch
          label={t`Bleed and marks for a printing shop`}
          shown
          on={settings.bleed}
          onTurn={() => set({ bleed: !settings.bleed })}
        />
      </View>
    </>
  );
}
