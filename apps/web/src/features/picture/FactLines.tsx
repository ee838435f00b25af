import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { cameraWords } from '@gemmel/core';
import { Link } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { savedOf } from '@/api/client';
import { sayBytes, sayClock, sayMetres, sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { Metadata } from './Metadata';
import { WhereLine } from './WhereLine';
import { SIZE } from '@/ui/tokens';
import { batchName } from '@/words/said';

const SOURCE: Record<string, MessageDescriptor> = {
  hand: msg`set by hand`,
  mended: msg`from the camera’s clock, set right`,
  written: msg`as written beside it`,
  camera: msg`from the camera’s clock`,
  copy: msg`from the picture it’s a copy of`,
  gps: msg`from GPS`,
  'file name': msg`from the file’s name`,
  'folder name': msg`from the folder’s name`,
  file: msg`from the file; perhaps only when it was copied`,
};

const PLACED: Record<string, MessageDescriptor> = {
  camera: msg`from the camera`,
  hand: msg`given by hand`,
  track: msg`from a recorded track`,
  copied: msg`copied from another picture`,
};

/** How far the named town is: "in Visby", "12 km from Visby". */
function sayNear({ where }: Picture): string {
  if (!where?.place || where.km === null) return '';
  return where.km < 1.5 ? t`in ${where.place}` : t`${sayMetres(1000 * where.km)} from ${where.place}`;
}

/** "(2 hours ahead of Greenwich)". */
const offsetWords = (minutes: number | null) =>
  minutes === null ? '' : `, UTC ${minutes < 0 ? '−' : '+'}${sayClock(Math.abs(minutes))}`;

/** What the file itself tells, and ways to where it lies. */
export function FactLines({ picture }: { picture: Picture }) {
  const [all, setAll] = useState(false);
  const lines: [string, string | null][] = [
    [t`File`, picture.name],
    [t`Came as`, picture.originalName],
    [t`Mark`, picture.label],
    [t`Kept in`, picture.keptAt],
    [
      t`Size`,
      // A look has no file of its own to speak of: its original has.
      picture.isLook
        ? `${sayNumber(picture.width)} × ${sayNumber(picture.height)}`
        : `${sayNumber(picture.width)} × ${sayNumber(picture.height)}, ${sayBytes(picture.bytes)}, ${picture.format.toUpperCase()}${picture.seconds ? `, ${sayClock(picture.seconds)}` : ''}`,
    ],
    [
      t`Taken with`,
      [picture.device ?? (picture.camera && cameraWords(picture.camera)), picture.exposure]
        .filter(Boolean)
        .join(' · ') || null,
    ],
    [
      t`Date`,
      picture.taken
        ? `${i18n._(SOURCE[picture.takenSource ?? ''] ?? msg`of unknown origin`)}${offsetWords(picture.offset)}`
        : null,
    ],
    [
      t`Place`,
      picture.position
        ? [i18n._(PLACED[picture.placeSource ?? 'camera']!), sayNear(picture)].filter(Boolean).join(', ')
        : null,
    ],
    [t`Lens`, picture.lens],
    [t`Came in with`, picture.batch ? batchName(picture.batch) : null],
  ];
  return (
    <View className="gap-1">
      {lines.map(([name, value]) =>
        value ? (
          <View key={name} className="flex-row gap-3">
            <Words kind="small" className="w-24">
              {name}
            </Words>
            <Words kind="small" className="min-w-0 flex-1 text-ink">
              {value}
            </Words>
          </View>
        ) : null,
      )}
      {picture.folder ? (
        <Link
          href={{ pathname: '/browse/folders', params: { at: picture.folder.id, seen: picture.id } }}
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small" className="font-semi text-juniper">
            {t`Its folder: ${picture.folder.name}`}
          </Words>
        </Link>
      ) : null}
      {picture.where ? (
        <>
          <WhereLine where={picture.where} />
          <Words kind="tiny">{t`Town names: GeoNames, CC BY 4.0`}</Words>
        </>
      ) : null}
      {picture.position ? (
        <Link
          href={{ pathname: '/browse/map', params: { seen: picture.id } }}
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small" className="font-semi text-juniper">{t`See it on the map`}</Words>
        </Link>
      ) : null}
      <Pressable role="button" onPress={() => setAll(true)} style={{ minHeight: SIZE.touch, justifyContent: 'center' }}>
        <Words kind="small" className="font-semi text-juniper">{t`Everything the file says`}</Words>
      </Pressable>
      {all ? <Metadata picture={picture.id} onClose={() => setAll(false)} /> : null}
      <a
        href={savedOf(picture.id)}
        download={picture.name}
        style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
      >
        <Words kind="small" className="font-semi text-juniper">{t`Save the original`}</Words>
      </a>
    </View>
  );
}
