import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import type { PieceSettings } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { PARTS } from '@/features/gather/NamesSheet';
import { Tells } from '@/features/show/Tells';
import { Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Switch } from '@/ui/Switch';
import { Choice, Group } from '@/ui/Choice';

type Out = Extract<PieceSettings, { kind: 'out' }>;

/** How copies are given out. */
export function OutFields({ settings, onChange }: { settings: Out; onChange: (settings: Out) => void }) {
  const [start, setStart] = useState(String(settings.names.start));
  const set = (more: Partial<Out>) => onChange({ ...settings, ...more });
  const { names, format } = settings;
  const toggle = (part: (typeof names.parts)[number]) => {
    const parts = names.parts.includes(part) ? names.parts.filter((one) => one !== part) : [...names.parts, part];
    // A name is made of something.
    if (parts.length) set({ names: { ...names, parts } });
  };
  return (
    <>
      <Choice
        label={t`What is given`}
        of={[
          ['original', t`Originals, as they came`],
          ['jpg', 'JPEG'],
          ['webp', 'WebP'],
          ['avif', 'AVIF'],
          ['png', 'PNG'],
        ]}
        value={format}
        onChoose={(one) => set({ format: one })}
      />
      {format === 'original' ? null : (
        <>
          <Choice
            label={t`Longest side, in pixels`}
            of={[
              [null, t`As large as they are`],
              [3840, '3840'],
              [2048, '2048'],
              [1280, '1280'],
            ]}
            value={settings.long}
            onChoose={(long) => set({ long })}
          />
          {format === 'png' ? null : (
            <Choice
              label={t`Quality`}
              of={[
                [70, t`Small files`],
                [85, t`Good`],
                [95, t`Best`],
              ]}
              value={settings.quality}
              onChoose={(quality) => set({ quality })}
            />
          )}
        </>
      )}
      <Choice
        label={t`Information inside the files`}
        of={[
          ['all', t`Everything`],
          ['said', t`Only what people said`],
          ['none', t`Nothing`],
        ]}
        value={settings.says}
        onChoose={(says) => set({ says })}
      />
      <Group label={t`Names of the files, from parts in the order you tap them`}>
        {PARTS.map(([part, label]) => {
          const at = names.parts.indexOf(part);
          return (
            <Chip
              key={part}
              label={at < 0 ? i18n._(label) : `${at + 1}. ${i18n._(label)}`}
              on={at >= 0}
              onPress={() => toggle(part)}
            />
          );
        })}
      </Group>
      {names.parts.includes('words') ? (
        <Field
          label={t`My own words`}
          value={names.words}
          maxLength={100}
          onChangeText={(words) => set({ names: { ...names, words } })}
        />
      ) : null}
      {names.parts.includes('number') ? (
        <Field
          label={t`The first number`}
          value={start}
          inputMode="numeric"
          onChangeText={(text) => {
            setStart(text);
            if (/^\d{1,6}$/.test(text)) set({ names: { ...names, start: Number(text) } });
          }}
        />
      ) : null}
      <Choice
        label={t`Folders`}
        of={[
          ['none', t`None`],
          ['event', t`One for each event`],
          ['day', t`One for each day`],
          ['year', t`One for each year`],
        ]}
        value={settings.folders}
        onChoose={(folders) => set({ folders })}
      />
      <View>
        <Switch
          label={t`What people said, beside each (XMP)`}
          shown
          on={settings.sidecars}
          onTurn={() => set({ sidecars: !settings.sidecars })}
        />
        <Switch
          label={t`Albums as tables (CSV), for other programs`}
          shown
          on={settings.albums}
          onTurn={() => set({ albums: !settings.albums })}
        />
      </View>
      <Folder value={settings.folder} onChange={(folder) => set({ folder })} />
    </>
  );
}

/** A folder of the machine instead of a ZIP, for whoever looks after that. */
function Folder({ value, onChange }: { value: string | null; onChange: (folder: string | null) => void }) {
  const house = useAnswer('libraries', {}).data?.houseKeeper ?? false;
  return house ? (
    <Field
      label={t`Into this folder of the computer Gemmel runs on, not a ZIP`}
      value={value ?? ''}
      maxLength={1000}
      onChangeText={(folder) => onChange(folder.trim() || null)}
    />
  ) : null;
}

type Bundle = Extract<PieceSettings, { kind: 'bundle' }>;

/** How plain pages are made. */
export function BundleFields({ settings, onChange }: { settings: Bundle; onChange: (settings: Bundle) => void }) {
  const set = (more: Partial<Bundle>) => onChange({ ...settings, ...more });
  return (
    <>
      <Choice
        label={t`Pictures`}
        of={[
          [1280, t`For phones`],
          [1920, t`For any screen`],
          [3840, t`For large screens`],
          [null, t`Originals`],
        ]}
        value={settings.long}
        onChoose={(long) => set({ long })}
      />
      <Tells label={t`What the pages tell`} tells={settings.tells} onChange={(tells) => set({ tells })} />
      <Choice
        label={t`The pages speak`}
        of={[
          ['en', 'English'],
          ['de', 'Deutsch'],
          ['sv', 'Svenska'],
        ]}
        value={settings.language}
        onChoose={(language) => set({ language })}
      />
      <Folder value={settings.folder} onChange={(folder) => set({ folder })} />
    </>
  );
}
