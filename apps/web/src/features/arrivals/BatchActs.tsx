import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { endHere, goOn, pause, useSending } from './sending';
import { isOrphaned } from './standing';

/** Pausing, going on and ending a batch that is not in yet. `again` opens the folder dialog. */
export function BatchActs({ batch, again }: { batch: Batch; again?: (() => void) | undefined }) {
  const sending = useSending((store) => store.sendings[batch.id]);
  const door = useSending((store) => store.doors[batch.id]);
  const [ending, setEnding] = useState(false);
  const { counts } = batch;
  if (batch.state === 'done') return null;
  const orphaned = isOrphaned(batch, sending);
  const stopped = batch.state === 'stopped';
  const end = (
    <Button
      label={t`Finish without the rest`}
      weight="quiet"
      className="min-h-touch px-3"
      onPress={() => setEnding(true)}
    />
  );
  return (
    <>
      {orphaned && !door ? (
        <Words kind="small" className="text-marigold">
          {plural(counts.waiting, {
            one: '# file never arrived because the page was closed. Choose the same folder again to continue where it stopped.',
            other:
              '# files never arrived because the page was closed. Choose the same folder again to continue where it stopped.',
          })}
        </Words>
      ) : null}
      <View className="flex-row flex-wrap items-center gap-2">
        {stopped || (orphaned && door) || sending?.state === 'lost' ? (
          <Button
            label={t`Continue`}
            weight="second"
            className="min-h-touch"
            onPress={() => void goOn(batch.id, stopped)}
          />
        ) : null}
        {orphaned && !door && again ? (
          <Button label={t`Choose it again`} weight="second" icon="folder" className="min-h-touch" onPress={again} />
        ) : null}
        {!stopped && !orphaned && sending?.state !== 'lost' ? (
          <Button
            label={t`Pause`}
            weight="quiet"
            icon="pause"
            className="min-h-touch px-3"
            onPress={() => void pause(batch.id)}
          />
        ) : null}
        {stopped || orphaned ? end : null}
      </View>
      {ending ? (
        <Sheet title={t`Finish without the rest?`} onClose={() => setEnding(false)}>
          <Words>{`${plural(counts.stored + counts.known, { one: '# picture is here and stays.', other: '# pictures are here and stay.' })} ${plural(counts.waiting, { one: '# file that never arrived is listed as left out; you can bring it in at any time.', other: '# files that never arrived are listed as left out; you can bring them in at any time.' })}`}</Words>
          <Button
            label={t`Finish without the rest`}
            onPress={() => {
              setEnding(false);
              void endHere(batch.id);
            }}
          />
        </Sheet>
      ) : null}
    </>
  );
}
