import type { Share } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { Fold } from './Fold';
import { dayFromNow, sayMay, sayTells, sayUntil, TELLABLE, type ShareSettings } from './settings';

const SPANS: [MessageDescriptor, number | null][] = [
  [msg`A week`, 7],
  [msg`A month`, 30],
  [msg`Three months`, 91],
  [msg`Until I close it`, null],
];
const SAVES: [Share['may']['save'], MessageDescriptor][] = [
  ['nothing', msg`Nothing`],
  ['screen', msg`Copies as large as a screen`],
  ['full', msg`Full size`],
];
const VISITS = [null, 1, 5, 20] as const;
const FILES = [50, 200, 1000] as const;

type Change = (change: Partial<ShareSettings>) => void;

/** What guests may do, what they are told, and how long: each a line that opens. */
export function SettingsFields({ settings, onChange }: { settings: ShareSettings; onChange: Change }) {
  const { may, tells, until, visits } = settings;
  const set = (change: Partial<Share['may']>) => onChange({ may: { ...may, ...change } });
  return (
    <View>
      <Fold title={t`Guests may`} now={sayMay(may)}>
        <Words kind="small">{t`What may they save?`}</Words>
        <View className="flex-row flex-wrap gap-x-2">
          {SAVES.map(([save, name]) => (
            <Chip key={save} label={i18n._(name)} on={may.save === save} onPress={() => set({ save })} />
          ))}
        </View>
        <Switch shown on={may.say} label={t`Comment, and give hearts`} onTurn={() => set({ say: !may.say })} />
        {may.say ? (
          <View className="ml-1 gap-1 border-l-4 border-lilac pl-3">
            <Switch
              shown
              on={may.closed}
              label={t`Enough said: keep it to be read, take nothing more`}
              onTurn={() => set({ closed: !may.closed })}
            />
          </View>
        ) : null}
        <Switch shown on={may.add} label={t`Add pictures of their own`} onTurn={() => set({ add: !may.add })} />
        {may.add ? (
          <View className="ml-1 gap-1 border-l-4 border-lilac pl-3">
            <Switch
              shown
              on={may.shown}
              label={t`Show what they add at once, without asking you`}
              onTurn={() => set({ shown: !may.shown })}
            />
            <Words kind="small">{t`How many from each guest?`}</Words>
            <View className="flex-row flex-wrap gap-x-2">
              {FILES.map((files) => (
                <Chip
                  key={files}
                  label={t`Up to ${sayNumber(files)}`}
                  on={may.files === files}
                  onPress={() => set({ files, bytes: files * 40_000_000 })}
                />
              ))}
            </View>
          </View>
        ) : null}
      </Fold>
      <Fold title={t`Guests are told`} now={sayTells(tells)}>
        {TELLABLE.map(([what, name]) => (
          <Switch
            key={what}
            shown
            on={tells[what]}
            label={i18n._(name)}
            onTurn={() => onChange({ tells: { ...tells, [what]: !tells[what] } })}
          />
        ))}
      </Fold>
      <Fold title={t`How long`} now={sayUntil(settings)}>
        <View className="flex-row flex-wrap gap-x-2">
          {SPANS.map(([name, days]) => {
            const day = days === null ? null : dayFromNow(days);
            return <Chip key={days} label={i18n._(name)} on={until === day} onPress={() => onChange({ until: day })} />;
          })}
        </View>
        <DayField label={t`Last day`} value={until} min={dayFromNow(0)} onChange={(day) => onChange({ until: day })} />
        <Words kind="small">{t`How often may it be opened?`}</Words>
        <View className="flex-row flex-wrap gap-x-2">
          {VISITS.map((n) => (
            <Chip
              key={n}
              label={n === null ? t`As often as they like` : n === 1 ? t`Once` : t`${sayNumber(n)} times`}
              on={visits === n}
              onPress={() => onChange({ visits: n })}
            />
          ))}
        </View>
      </Fold>
    </View>
  );
}

/** Whether anybody with the link may open it, and the word it asks for. `has` tells that it asks for one now. */
export function LinkFields({ settings, has, onChange }: { settings: ShareSettings; has: boolean; onChange: Change }) {
  const { anybody, word } = settings;
  const asks = word === null ? has : word !== '';
  return (
    <View className="gap-1">
      <Switch shown on={anybody} label={t`Anybody with the link`} onTurn={() => onChange({ anybody: !anybody })} />
      {anybody ? (
        <View className="ml-1 gap-1 border-l-4 border-lilac pl-3">
          <Field
            label={has ? t`Another word to ask for` : t`A word to ask for, if you like`}
            value={word ?? ''}
            onChangeText={(typed) => onChange({ word: typed })}
            maxLength={80}
            autoCapitalize="none"
            autoComplete="off"
          />
          {has && word === null ? (
            <View className="flex-row items-center gap-2">
              <Words kind="small">{t`It asks for a word now.`}</Words>
              <Chip label={t`Ask for none`} onPress={() => onChange({ word: '' })} />
            </View>
          ) : null}
          {asks && word ? <Words kind="small">{t`Send them the word some other way than the link.`}</Words> : null}
        </View>
      ) : null}
    </View>
  );
}
