import type { Picture } from '@gemmel/contract';
import { Link } from 'expo-router';
import { View } from 'react-native';
import { sayBytes, sayClock, sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { WhereLine } from './WhereLine';
import { SIZE } from '@/ui/tokens';

const SOURCE: Record<string, string> = {
  hand: 'set by hand',
  mended: 'from the camera’s clock, mended',
  written: 'as it was written beside it',
  camera: 'from the camera’s clock',
  copy: 'from the picture it is a copy of',
  gps: 'from GPS',
  'file name': 'from the file’s name',
  'folder name': 'from the folder’s name',
  file: 'from the file, which may be when it was copied',
};

const PLACED: Record<string, string> = {
  camera: 'from the camera',
  hand: 'given by hand',
  track: 'from a recorded track',
  copied: 'copied from another picture',
};

/** How far the named town is: "in Visby", "12 km from Visby". */
function sayNear({ where }: Picture): string {
  if (!where?.place || where.km === null) return '';
  return where.km < 1.5 ? `in ${where.place}` : `${Math.round(where.km)} km from ${where.place}`;
}

/** "(2 hours ahead of Greenwich)". */
const offsetWords = (minutes: number | null) =>
  minutes === null ? '' : `, UTC ${minutes < 0 ? '−' : '+'}${sayClock(Math.abs(minutes))}`;

/** What the file itself tells, and ways to where it lies. */
export function FactLines({ picture }: { picture: Picture }) {
  const lines: [string, string | null][] = [
    ['File', picture.name],
    ['Came as', picture.originalName],
    ['Mark', picture.label],
    ['Kept in', picture.keptAt],
    [
      'Size',
      `${sayNumber(picture.width)} × ${sayNumber(picture.height)}, ${sayBytes(picture.bytes)}, ${picture.format.toUpperCase()}${picture.seconds ? `, ${sayClock(picture.seconds)}` : ''}`,
    ],
    ['Taken with', [picture.device ?? picture.camera, picture.exposure].filter(Boolean).join(' · ') || null],
    [
      'Date',
      picture.taken
        ? `${SOURCE[picture.takenSource ?? ''] ?? 'of unknown source'}${offsetWords(picture.offset)}`
        : null,
    ],
    [
      'Place',
      picture.position ? [PLACED[picture.placeSource ?? 'camera'], sayNear(picture)].filter(Boolean).join(', ') : null,
    ],
    ['Came in with', picture.batch?.name ?? null],
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
            {`Where it came: ${picture.folder.name}`}
          </Words>
        </Link>
      ) : null}
      {picture.where ? (
        <>
          <WhereLine where={picture.where} />
          <Words kind="tiny">Town names: GeoNames, CC BY 4.0</Words>
        </>
      ) : null}
      {picture.position ? (
        <Link
          href={{ pathname: '/browse/map', params: { seen: picture.id } }}
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small" className="font-semi text-juniper">
            See it on the map
          </Words>
        </Link>
      ) : null}
      <a
        href={`/api/pictures/${picture.id}/original?save`}
        download={picture.name}
        style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
      >
        <Words kind="small" className="font-semi text-juniper">
          Save the original, byte for byte
        </Words>
      </a>
    </View>
  );
}
