import type { Answer, Api } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';

type Reached = Answer<Api['reach']>;

/** Who can open a link, in a sentence, as far as this machine can tell. */
export function sayReach({ address, who, answers }: Reached): string {
  if (answers === false) return t`Nobody answers at ${address ?? ''} just now, so links may not open.`;
  switch (who) {
    case 'machine':
      return t`Links open on this machine only. Guests elsewhere can’t reach it yet.`;
    case 'house':
      return t`Links open in the house, and nowhere else.`;
    default:
      return t`Links open everywhere.`;
  }
}

/** A line that says who can open links as they are now. */
export function ReachLine() {
  const { data } = useAnswer('reach', {});
  if (!data) return null;
  const far = data.who === 'everywhere';
  return (
    <Words kind="small" className={far ? '' : 'font-semi text-marigold'}>
      {sayReach(data)}
    </Words>
  );
}

/** The address guests are given, for the keeper to set; and what came of asking there. */
export function AddressForGuests() {
  const { data } = useAnswer('reach', {});
  const [typed, setTyped] = useState<string | null>(null);
  if (!data) return null;
  const set = (address: string | null) =>
    act(
      () => call('setAddress', { body: { address } }),
      address ? t`Links are made with ${address} from now on` : t`Links are made with the address of this page`,
      'library',
    ).then((done) => {
      if (!done) return;
      setTyped(null);
      refresh('me', 'reach');
    });
  return (
    <View className="items-start gap-2">
      <Heading>{t`Address for guests`}</Heading>
      <Words>{sayReach(data)}</Words>
      {data.address ? <Words className="text-soft">{data.address}</Words> : null}
      {data.address && !data.secure ? (
        <Words kind="small" className="text-marigold">{t`The way there isn’t encrypted.`}</Words>
      ) : null}
      {typed === null ? (
        <View className="flex-row flex-wrap gap-2">
          <Button
            label={data.address ? t`Change the address` : t`Give an address`}
            weight="second"
            onPress={() => setTyped(data.address ?? 'https://')}
          />
          {data.address ? (
            <>
              <Button label={t`Ask again`} weight="quiet" onPress={() => refresh('reach')} />
              <Button label={t`Take it away`} weight="quiet" onPress={() => void set(null)} />
            </>
          ) : null}
        </View>
      ) : (
        <View className="gap-2 self-stretch">
          <Field
            label={t`The address, as it stands in a browser`}
            value={typed}
            onChangeText={setTyped}
            inputMode="url"
            autoCapitalize="none"
            maxLength={200}
          />
          <View className="flex-row gap-2">
            <Button
              label={t`Use this address`}
              disabled={typed.trim().length < 10}
              onPress={() => void set(typed.trim())}
            />
            <Button label={t`Leave it`} weight="quiet" onPress={() => setTyped(null)} />
          </View>
        </View>
      )}
      <Words kind="small">{t`How to make a house reachable is written in docs/reach.md.`}</Words>
    </View>
  );
}
