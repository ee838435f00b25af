import { t } from '@lingui/core/macro';
import type { RunShot } from '@gemmel/contract';
import { Pressable, View } from 'react-native';
import { portraitOf, smallOf } from '@/api/client';
import { DoubleBar } from '@/ui/DoubleBar';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';

/** Most rows of faces that are shown. */
const MOST = 6;

/** Those in a run, the most often and the largest first, each with their face in every shot. */
export function rowsOf(shots: readonly RunShot[]): { who: number; faces: (RunShot['faces'][number] | null)[] }[] {
  const size = new Map<number, number>();
  for (const shot of shots)
    for (const face of shot.faces) size.set(face.who, (size.get(face.who) ?? 0) + face.w * face.h);
  return [...size]
    .sort((a, b) => b[1] - a[1])
    .map(([who]) => ({ who, faces: shots.map((shot) => shot.faces.find((face) => face.who === who) ?? null) }));
}

/**
 * A table of people and shots: a row for each person with their ovals, a column for each shot. Touching a column keeps it, an oval shows
 * that face large. Without people there are the shots themselves.
 */
export function FacesTable({
  shots,
  names,
  kept,
  best,
  looked,
  onColumn,
  onFace,
}: {
  shots: readonly RunShot[];
  names: Readonly<Record<string, string>>;
  kept: ReadonlySet<number>;
  best: number;
  /** The shots that are shown large. */
  looked: readonly number[];
  onColumn: (id: number) => void;
  onFace: (who: number) => void;
}) {
  const rows = rowsOf(shots).slice(0, MOST);
  const label = (who: number) => names[String(who)] ?? t`No name yet`;
  return (
    <div style={{ overflowX: 'auto', paddingBottom: 4 }}>
      <table style={{ borderCollapse: 'collapse', width: '100%', minWidth: shots.length * SIZE.field + SIZE.rowName }}>
        <thead>
          <tr>
            <td style={{ width: SIZE.rowName }} />
            {shots.map((shot, i) => {
              const on = kept.has(shot.id);
              return (
                <th key={shot.id} scope="col" style={{ padding: 0, fontWeight: 'normal' }}>
                  <Pressable
                    role="checkbox"
                    aria-checked={on}
                    aria-label={shot.id === best ? t`Keep number ${i + 1}, the one proposed` : t`Keep number ${i + 1}`}
                    onPress={() => onColumn(shot.id)}
                    className="min-h-touch items-center justify-end gap-1 pb-1"
                  >
                    <Words
                      kind={on ? 'strong' : 'small'}
                      className={on ? 'text-juniper' : looked.includes(shot.id) ? 'text-ink' : ''}
                    >
                      {i + 1}
                    </Words>
                    {on ? <DoubleBar tone="settled" width={34} /> : <View className="h-2" />}
                  </Pressable>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ who, faces }) => (
            <tr key={who}>
              <th scope="row" style={{ textAlign: 'left', fontWeight: 'normal', paddingRight: 8 }}>
                <Words kind="small" className="text-ink" numberOfLines={2}>
                  {label(who)}
                </Words>
              </th>
              {faces.map((face, i) => (
                <td key={shots[i]!.id} style={{ textAlign: 'center', padding: '4px 2px' }}>
                  {face ? (
                    <button
                      type="button"
                      aria-label={t`${label(who)} in number ${i + 1}, larger`}
                      onClick={() => onFace(who)}
                      style={{
                        all: 'unset',
                        cursor: 'pointer',
                        display: 'inline-block',
                        width: SIZE.touch,
                        height: SIZE.cameo,
                        borderRadius: '50%',
                        overflow: 'hidden',
                        outline: kept.has(shots[i]!.id)
                          ? '3px solid rgb(var(--juniper))'
                          : '1px solid rgb(var(--line))',
                        outlineOffset: 1,
                        background: 'rgb(var(--line))',
                      }}
                    >
                      <img
                        src={portraitOf(face.id)}
                        alt=""
                        loading="lazy"
                        style={{ width: '100%', height: '100%', objectFit: 'cover' }}
                      />
                    </button>
                  ) : (
                    <Words kind="small">–</Words>
                  )}
                </td>
              ))}
            </tr>
          ))}
          {rows.length === 0 ? (
            <tr>
              <td />
              {shots.map((shot) => (
                <td key={shot.id} style={{ textAlign: 'center', padding: '4px 2px' }}>
                  <img
                    src={smallOf(shot.sha)}
                    alt={shot.name}
                    style={{ width: SIZE.field, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
                  />
                </td>
              ))}
            </tr>
          ) : null}
        </tbody>
      </table>
    </div>
  );
}
