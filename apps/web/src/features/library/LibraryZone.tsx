import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** Most zones that are offered at once. */
const MOST = 8;
const sayZone = (zone: string): string => zone.replace(/_/g, ' ').replace(/\//g, ', ');
const fold = (text: string) => text.toLowerCase().replace(/[\s_/,]+/g, ' ');

/** The time zone the household lives in, for the keeper to change. */
export function LibraryZone() {
  const me = useMe().data;
  const [open, setOpen] = useState(false);
  if (!me) return null;
  return (
    <View className="items-start gap-2">
      <Words className="text-soft">{t`The household lives in the time zone ${sayZone(me.zone)}. Times that don’t say their own are read by it.`}</Words>
      <Button label={t`Change the time zone`} weight="second" onPress={() => setOpen(true)} />
      {open ? <ZoneSheet zone={me.zone} onClose={() => setOpen(false)} /> : null}
    </View>
  );
}

function ZoneSheet({ zone, onClose }: { zone: string; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const all = Intl.supportedValuesOf('timeZone');
  const wanted = fold(typed.trim());
  // Names of which a word begins so come first.
  const begins = (one: string) => (` ${fold(one)}`.includes(` ${wanted}`) ? 0 : 1);
  const found = wanted
    ? all.filter((one) => fold(one).includes(wanted)).sort((a, b) => begins(a) - begins(b))
    : [...new Set([here, zone])];
  const set = (to: string) =>
    act(() => call('setLibraryZone', { body: { zone: to } }), t`Time zone set to ${sayZone(to)}`, 'library').then(
      () => {
        refresh('me');
        onClose();
      },
    );
  return (
    <Sheet title={t`Time zone`} onClose={onClose}>
      <Words className="text-soft">{t`Pictures that are here keep the times they have.`}</Words>
      <Field label={t`A large town in it, such as Lisbon`} value={typed} onChangeText={setTyped} />
      <View>
        {found.slice(0, MOST).map((one) => (
          <Pressable
            key={one}
            role="button"
            onPress={() => void set(one)}
            className="min-h-touch justify-center border-t border-line active:opacity-70"
          >
            <Words kind="strong">{sayZone(one)}</Words>
            {one === zone ? <Words kind="small">{t`As it is`}</Words> : null}
            {one === here && one !== zone ? <Words kind="small">{t`As on this device`}</Words> : null}
          </Pressable>
        ))}
        {found.length === 0 ? <Words>{t`No time zone by that name.`}</Words> : null}
        {found.length > MOST ? <Words kind="small">{t`And more; go on typing.`}</Words> : null}
      </View>
    </Sheet>
  );
}
