import { plural, t } from '@lingui/core/macro';
import type { MadeFile, Piece } from '@gemmel/contract';
import { View } from 'react-native';
import { call } from '@/api/client';
import { inLibrary } from '@/api/library';
import { refreshTopics } from '@/api/query';
import { trouble } from '@/state/toast';
import { sayFar } from '@/features/keep/words';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { sayBytes, sayClock, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { sayReason } from '@/words/problems';

/** Where a file of a piece is. */
export const fileOf = (piece: number, name: string): string =>
  inLibrary(`/api/pieces/${piece}/files/${encodeURIComponent(name)}`);

const sayFile = ({ pages, seconds, bytes }: MadeFile): string =>
  [
    pages === null ? '' : plural(pages, { one: '# page', other: '# pages' }),
    seconds === null ? '' : sayClock(seconds),
    sayBytes(bytes),
  ]
    .filter(Boolean)
    .join(' · ');

/** The making of a piece: how far it is, with a way to stop it; what came of it; and a way to begin. */
export function MakingBar({ piece, label }: { piece: Piece; label: string }) {
  const { id, making, made } = piece;
  const busy = making?.state === 'ready' || making?.state === 'running';
  const tell = (what: 'produce' | 'stopProducing') =>
    void call(what, { params: { id } }).then(() => refreshTopics('making'), trouble);
  return (
    <View className="mb-5 gap-2">
      {busy ? (
        <View className="gap-2 rounded-card border border-line bg-card p-4">
          <Words aria-live="polite">{sayFar(making)}</Words>
          <DoubleBar share={making.of ? making.done / making.of : 0} width={260} label={t`Making it`} />
          <Button label={t`Stop`} weight="second" className="self-start" onPress={() => tell('stopProducing')} />
        </View>
      ) : (
        <View className="flex-row flex-wrap items-center gap-3">
          <Button
            label={made?.changed ? t`Make it again` : label}
            weight={made && made.changed === false ? 'second' : 'main'}
            onPress={() => tell('produce')}
          />
          {made ? (
            <Words kind="small" className="min-w-0 shrink">
              {made.changed ? t`Made ${sayWhen(made.at)}; it has changed since.` : t`Made ${sayWhen(made.at)}.`}
            </Words>
          ) : null}
        </View>
      )}
      {making?.state === 'failed' ? (
        <Words className="font-semi text-marigold">
          {making.why ? t`It didn’t finish: ${sayReason(making.why)}` : t`It didn’t finish. Start it again.`}
        </Words>
      ) : null}
      {made?.missing.length ? (
        <Words className="font-semi text-marigold">
          {plural(made.missing.length, {
            one: `# picture could not be read, and its place is empty: ${made.missing.slice(0, 5).join(', ')}`,
            other: `# pictures could not be read, and their places are empty: ${made.missing.slice(0, 5).join(', ')}`,
          })}
        </Words>
      ) : null}
      {made?.files.map((file) => (
        <View key={file.name} className="min-h-touch flex-row items-center gap-3 border-t border-line">
          <a
            href={fileOf(id, file.name)}
            target="_blank"
            rel="noreferrer"
            style={{ color: 'inherit', minWidth: 0, flex: 1 }}
          >
            <Words className="text-juniper" numberOfLines={2}>
              {file.name}
            </Words>
          </a>
          <Words kind="small">{sayFile(file)}</Words>
          <a href={`${fileOf(id, file.name)}?save`} download={file.name} aria-label={t`Save ${file.name}`}>
            <Words className="font-semi text-juniper">{t`Save`}</Words>
          </a>
        </View>
      ))}
    </View>
  );
}
