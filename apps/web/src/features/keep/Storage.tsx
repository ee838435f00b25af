import type { StoragePage } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { sayBytes, sayDay, sayNumber } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';

type Line = StoragePage['years'][number];

/** What takes up space: by year, kind, device, person and event; what is largest; what could go; and when the disk is full. */
export function Storage() {
  const { data, error, refetch } = useAnswer('storage', {});
  return (
    <Page title={t`What takes up space`} narrow>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : <Taken page={data} />}
    </Page>
  );
}

function Taken({ page }: { page: StoragePage }) {
  const router = useRouter();
  const { disk, originals, derived, growth, could, kinds, years, devices, people, events, largest } = page;
  const used = disk.total - disk.left;
  const kind = (name: string) =>
    name === 'photo' ? t`Pictures` : name === 'video' ? t`Clips` : t`Files kept beside pictures`;
  return (
    <View className="gap-8">
      <View className="gap-1">
        <Heading tone={disk.left < disk.total * 0.1 ? 'waiting' : 'settled'}>{t`The disk`}</Heading>
        <DoubleBar share={disk.total ? used / disk.total : 0} width={260} label={t`How full the disk is`} />
        <Words>{t`${sayBytes(disk.left)} of ${sayBytes(disk.total)} are free.`}</Words>
        <Words className="text-soft">
          {[
            t`Originals here: ${sayBytes(originals)}.`,
            t`Small versions, which can always be made again: ${sayBytes(derived)}.`,
          ].join(' ')}
        </Words>
        <Words className="text-soft">
          {growth.perMonth === null
            ? t`How fast it grows can be told after a week.`
            : growth.full
              ? t`About ${sayBytes(growth.perMonth)} come in each month. At that pace the disk is full around ${sayDay(growth.full)}.`
              : t`About ${sayBytes(growth.perMonth)} come in each month. There is room for a long time.`}
        </Words>
      </View>
      {could.binned.pictures || could.doubles.pictures ? (
        <View className="items-start gap-1">
          <Heading tone="waiting">{t`What could go`}</Heading>
          {could.binned.pictures ? (
            <Button
              label={t`In the bin: ${sayNumber(could.binned.pictures)}, ${sayBytes(could.binned.bytes)}`}
              weight="quiet"
              className="px-0"
              onPress={() => router.push('/bin')}
            />
          ) : null}
          {could.doubles.pictures ? (
            <Button
              label={t`Doubles of another: ${sayNumber(could.doubles.pictures)}, ${sayBytes(could.doubles.bytes)}`}
              weight="quiet"
              className="px-0"
              onPress={() => router.push('/runs')}
            />
          ) : null}
        </View>
      ) : null}
      <Bars
        title={t`By kind`}
        lines={kinds.filter(({ pictures }) => pictures).map((one) => ({ ...one, name: kind(one.name) }))}
      />
      <Bars title={t`By year`} lines={years.map((one) => ({ ...one, name: one.name || t`Without a date` }))} />
      <Bars title={t`By device`} lines={devices.map((one) => ({ ...one, name: one.name || t`No device known` }))} />
      <Bars title={t`By person`} lines={people} />
      <Bars title={t`By event`} lines={events} />
      {largest.length ? (
        <View>
          <Heading>{t`The largest`}</Heading>
          {largest.map(({ id, name, bytes, sha }) => (
            <Pressable
              key={id}
              role="link"
              onPress={() => router.push(`/picture/${id}`)}
              className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:opacity-70"
            >
              <img
                src={smallOf(sha)}
                alt=""
                style={{ width: SIZE.field, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
              />
              <Words className="min-w-0 flex-1" numberOfLines={2}>
                {name}
              </Words>
              <Words kind="small">{sayBytes(bytes)}</Words>
            </Pressable>
          ))}
        </View>
      ) : null}
      <Limits page={page} />
    </View>
  );
}

/** Lines with a bar each, as long as what they take up. */
function Bars({ title, lines }: { title: string; lines: readonly Line[] }) {
  const [all, setAll] = useState(false);
  if (lines.length === 0) return null;
  const most = Math.max(...lines.map(({ bytes }) => bytes), 1);
  const shown = all ? lines : lines.slice(0, 6);
  return (
    <View>
      <Heading>{title}</Heading>
      <View className="gap-2">
        {shown.map(({ id, name, pictures, bytes }) => (
          <View key={id ?? name}>
            <View className="flex-row gap-3">
              <Words className="min-w-0 flex-1" numberOfLines={1}>
                {name}
              </Words>
              <Words kind="small">
                {[sayBytes(bytes), plural(pictures, { one: '# file', other: '# files' })].join(' · ')}
              </Words>
            </View>
            <View className="h-1 rounded-full bg-juniper" style={{ width: `${Math.max(1, (bytes / most) * 100)}%` }} />
          </View>
        ))}
      </View>
      {lines.length > shown.length ? (
        <Button
          label={t`Show all ${sayNumber(lines.length)}`}
          weight="quiet"
          className="self-start px-0"
          onPress={() => setAll(true)}
        />
      ) : null}
    </View>
  );
}

/** How much may be brought, in gigabytes; null for as much as there is room for. */
const LIMITS = [null, 1, 5, 20, 100] as const;
const GIGABYTE = 1e9;

function Limits({ page: { limits } }: { page: StoragePage }) {
  const set = (to: StoragePage['limits']) =>
    void call('setLimits', { body: to }).then(() => (refresh('storage'), say(t`Saved`)), trouble);
  const row = (title: string, which: 'member' | 'share') => (
    <View className="gap-1">
      <Words kind="small">{title}</Words>
      <View className="flex-row flex-wrap gap-2" role="group" aria-label={title}>
        {LIMITS.map((one) => (
          <Chip
            key={String(one)}
            label={one === null ? t`No limit` : sayBytes(one * GIGABYTE)}
            on={limits[which] === (one === null ? null : one * GIGABYTE)}
            onPress={() => set({ ...limits, [which]: one === null ? null : one * GIGABYTE })}
          />
        ))}
      </View>
    </View>
  );
  return (
    <View className="gap-3">
      <Heading>{t`How much others may bring`}</Heading>
      {row(t`Each helper or relative`, 'member')}
      {row(t`The guests of one share, together`, 'share')}
    </View>
  );
}
