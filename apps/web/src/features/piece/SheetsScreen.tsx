import { plural, t } from '@lingui/core/macro';
import type { Piece } from '@gemmel/contract';
import { POOR, SHARP } from '@gemmel/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { sayBytes, sayNumber, sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { SheetView } from './PageView';
import { PieceTop } from './PieceHeader';

/** So many sheets are drawn at first. */
const FIRST = 12;

/** Prints, a collage, a card or a calendar: their sheets, and their making. */
export function SheetsScreen({ piece }: { piece: Piece }) {
  const wide = useWide();
  const { data, error, refetch } = useAnswer('sheetsLayout', { params: { id: piece.id } });
  const looks = useMemo(() => new Map(data?.looks.map((look) => [look.id, look])), [data]);
  const [all, setAll] = useState(false);
  const sheets = data?.sheets ?? [];
  const coarse = [...new Map(sheets.flatMap(({ pictures }) => pictures).map((one) => [one.id, one.ppi])).values()];
  const poor = coarse.filter((ppi) => ppi < POOR).length;
  const soft = coarse.filter((ppi) => ppi >= POOR && ppi < SHARP).length;
  const shown = all ? sheets : sheets.slice(0, FIRST);
  return (
    <Page>
      <PieceTop
        piece={piece}
        label={piece.settings.kind === 'prints' ? t`Make the prints` : t`Make it`}
        about={
          data
            ? [plural(sheets.length, { one: '# sheet', other: '# sheets' }), t`about ${sayBytes(data.bytes)}`].join(
                ' · ',
              )
            : ''
        }
      />
      {piece.settings.kind === 'prints' ? <Order piece={piece} /> : null}
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.left.length ? (
        <Words className="mb-3 font-semi text-marigold">
          {plural(data.left.length, {
            one: `# picture is left out: no face with enough room around it (${data.left.slice(0, 5).join(', ')})`,
            other: `# pictures are left out: no face with enough room around it (${data.left.slice(0, 5).join(', ')})`,
          })}
        </Words>
      ) : null}
      {poor || soft ? (
        <Words className={`mb-3 font-semi ${poor ? 'text-brick' : 'text-marigold'}`}>
          {poor
            ? plural(poor, {
                one: '# picture is too small for this size: it will look coarse.',
                other: '# pictures are too small for this size: they will look coarse.',
              })
            : plural(soft, {
                one: '# picture would be sharper in a smaller size.',
                other: '# pictures would be sharper in a smaller size.',
              })}
        </Words>
      ) : null}
      {data && sheets.length === 0 ? (
        <Words>{t`None of these pictures can be used. Choose another size, or other pictures.`}</Words>
      ) : null}
      <View className="flex-row flex-wrap gap-5">
        {shown.map((sheet, i) => (
          <div key={i} style={{ width: wide ? 'min(48%, 460px)' : '100%' }}>
            <SheetView sheet={sheet} looks={looks} label={t`Sheet ${i + 1}`} />
          </div>
        ))}
      </View>
      {shown.length < sheets.length ? (
        <Button
          label={t`Show all ${sayNumber(sheets.length)}`}
          weight="quiet"
          className="self-start px-0"
          onPress={() => setAll(true)}
        />
      ) : null}
    </Page>
  );
}

/** Sending prints to the shop, and its receipt. */
function Order({ piece }: { piece: Piece }) {
  const keeper = useMe().data?.member?.part === 'keeper';
  const [busy, setBusy] = useState(false);
  const { made, receipt, settings } = piece;
  if (!made || !keeper || settings.kind !== 'prints' || settings.size === 'contact') return null;
  const order = async () => {
    setBusy(true);
    await call('orderPrints', { params: { id: piece.id } }).then(() => refreshTopics('making'), trouble);
    setBusy(false);
  };
  return (
    <View className="mb-5 items-start gap-1">
      {receipt ? (
        <Words aria-live="polite">
          {t`Ordered ${sayWhen(receipt.at)} from ${receipt.shop}: ${sayNumber(receipt.prints)} prints, receipt ${receipt.number}.`}
        </Words>
      ) : null}
      {made.changed ? (
        <Words kind="small">{t`Make the prints again before you order them.`}</Words>
      ) : (
        <Button
          label={busy ? t`Ordering …` : receipt ? t`Order again` : t`Order from the print shop`}
          weight="second"
          disabled={busy}
          onPress={() => void order()}
        />
      )}
    </View>
  );
}
