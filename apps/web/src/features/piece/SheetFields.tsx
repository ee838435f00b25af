import { plural, t } from '@lingui/core/macro';
import type { PieceSettings } from '@gemmel/contract';
import { CALENDAR_PAGES, PAGES, type PageSize } from '@gemmel/core';
import { useState } from 'react';
import { Field } from '@/ui/Field';
import { Switch } from '@/ui/Switch';
import { Choice } from '@/ui/Choice';
import { backgrounds, paperWords } from './words';

type Of<K extends PieceSettings['kind']> = Extract<PieceSettings, { kind: K }>;
interface Props<K extends PieceSettings['kind']> {
  settings: Of<K>;
  onChange: (settings: Of<K>) => void;
}

/** Whether it is one file to print, or pictures. */
function As({ value, onChoose }: { value: 'pdf' | 'jpg'; onChoose: (as: 'pdf' | 'jpg') => void }) {
  return (
    <Choice
      label={t`As`}
      of={[
        ['pdf', t`One PDF to print`],
        ['jpg', t`JPEG files`],
      ]}
      value={value}
      onChoose={onChoose}
    />
  );
}

/** How prints are made. */
export function PrintFields({ settings, onChange }: Props<'prints'>) {
  const set = (more: Partial<Of<'prints'>>) => onChange({ ...settings, ...more });
  const { size } = settings;
  return (
    <>
      <Choice
        label={t`Size`}
        of={[
          ['10x15', t`10 × 15 cm`],
          ['13x18', t`13 × 18 cm`],
          ['20x30', t`20 × 30 cm`],
          ['A4', 'A4'],
          ['35x45', t`For a passport, 35 × 45 mm`],
          ['contact', t`All of them small, with names`],
        ]}
        value={size}
        onChoose={(one) => set({ size: one, ...(one === '35x45' && settings.copies === 1 ? { copies: 4 } : {}) })}
      />
      {size === 'contact' ? null : (
        <>
          <Choice
            label={t`How often each`}
            of={[1, 2, 4, 8].map((n) => [n, plural(n, { one: 'once', other: '# times' })] as const)}
            value={settings.copies}
            onChoose={(copies) => set({ copies })}
          />
          {size === '10x15' || size === '13x18' ? (
            <Choice
              label={t`Sheets`}
              of={[
                ['own', t`One for each`],
                ['A4', t`Several on A4, with marks to cut along`],
              ]}
              value={settings.paper}
              onChoose={(paper) => set({ paper })}
            />
          ) : null}
          <Choice
            label={t`Paper`}
            of={[
              ['glossy', t`Glossy`],
              ['matt', t`Matt`],
            ]}
            value={settings.finish}
            onChoose={(finish) => set({ finish })}
          />
          {size === '35x45' ? null : (
            <>
              <Switch
                label={t`White border`}
                shown
                on={settings.border}
                onTurn={() => set({ border: !settings.border })}
              />
              <Switch
                label={t`The day in a corner`}
                shown
                on={settings.date}
                onTurn={() => set({ date: !settings.date })}
              />
            </>
          )}
        </>
      )}
      <As value={settings.as} onChoose={(as) => set({ as })} />
    </>
  );
}

/** A colour behind pictures. */
function Background({ value, onChoose }: { value: string; onChoose: (colour: string) => void }) {
  return <Choice label={t`Background`} of={backgrounds()} value={value} onChoose={onChoose} />;
}

/** How a collage is made. */
export function CollageFields({ settings, onChange }: Props<'collage'>) {
  const set = (more: Partial<Of<'collage'>>) => onChange({ ...settings, ...more });
  return (
    <>
      <Field
        label={t`Title above them, if any`}
        value={settings.title}
        maxLength={200}
        onChangeText={(title) => set({ title })}
      />
      <Choice
        label={t`Sheet`}
        of={(Object.keys(PAGES) as PageSize[]).map((paper) => [paper, paperWords(paper)] as const)}
        value={settings.paper}
        onChoose={(paper) => set({ paper })}
      />
      <Choice
        label={t`Between pictures`}
        of={[
          [0, t`Nothing`],
          [2, t`A little`],
          [4, t`Some room`],
          [10, t`Much room`],
        ]}
        value={settings.gap}
        onChoose={(gap) => set({ gap })}
      />
      <Background value={settings.background} onChoose={(background) => set({ background })} />
      <As value={settings.as} onChoose={(as) => set({ as })} />
    </>
  );
}

/** How a card is made. */
export function CardFields({ settings, onChange }: Props<'card'>) {
  const set = (more: Partial<Of<'card'>>) => onChange({ ...settings, ...more });
  return (
    <>
      <Field label={t`On the front`} value={settings.title} maxLength={120} onChangeText={(title) => set({ title })} />
      <Field
        label={t`On the back`}
        value={settings.words}
        maxLength={1500}
        multiline
        onChangeText={(words) => set({ words })}
      />
      <Choice
        label={t`Size`}
        of={[
          ['A6', t`A6, a postcard`],
          ['10x15', t`10 × 15 cm`],
          ['square', t`Square, 14 cm`],
        ]}
        value={settings.paper}
        onChoose={(paper) => set({ paper })}
      />
      <Background value={settings.background} onChoose={(background) => set({ background })} />
      <As value={settings.as} onChoose={(as) => set({ as })} />
    </>
  );
}

/** How a calendar is made. */
export function CalendarFields({ settings, onChange }: Props<'calendar'>) {
  const set = (more: Partial<Of<'calendar'>>) => onChange({ ...settings, ...more });
  const [country, setCountry] = useState(settings.country ?? '');
  const now = new Date().getFullYear();
  return (
    <>
      <Choice
        label={t`Year`}
        of={[now, now + 1, now + 2].map((year) => [year, String(year)] as const)}
        value={settings.year}
        onChoose={(year) => set({ year })}
      />
      <Field
        label={t`Title on its first sheet, if any`}
        value={settings.title}
        maxLength={120}
        onChangeText={(title) => set({ title })}
      />
      <Choice
        label={t`Sheets`}
        of={CALENDAR_PAGES.map((paper) => [paper, paperWords(paper)] as const)}
        value={settings.paper}
        onChoose={(paper) => set({ paper })}
      />
      <Switch
        label={t`Birthdays of people whose birth is known`}
        shown
        on={settings.birthdays}
        onTurn={() => set({ birthdays: !settings.birthdays })}
      />
      <Field
        label={t`Holidays of a country, by its two letters (SE, DE, GB); empty for none`}
        value={country}
        maxLength={2}
        autoCapitalize="characters"
        onChangeText={(text) => {
          setCountry(text.toUpperCase());
          if (!text || /^[a-z]{2}$/i.test(text)) set({ country: text ? text.toUpperCase() : null });
        }}
      />
      <As value={settings.as} onChoose={(as) => set({ as })} />
    </>
  );
}
