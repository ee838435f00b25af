import { t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { call, largeOf, playOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { sayShare } from '@/ui/say';

const FILL = { position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' } as const;

/** A clip, played as it is or converted first, with how far that is. The original stays as it came. */
export function ClipPlayer({ picture }: { picture: Pick<Picture, 'id' | 'sha' | 'name' | 'format'> }) {
  const [broken, setBroken] = useState(false);
  const [stopped, setStopped] = useState(false);
  const { data } = useAnswer('playable', { params: { id: picture.id } }, { enabled: !stopped });
  const poster = largeOf(picture.sha);
  if (data && data.state !== 'making' && data.state !== 'failed' && !broken)
    return (
      <video
        key={picture.id}
        src={playOf(picture.id)}
        poster={poster}
        controls
        playsInline
        preload="metadata"
        aria-label={picture.name}
        onError={(event) => {
          if (event.currentTarget.error) setBroken(true);
        }}
        style={FILL}
      />
    );
  const share = data?.state === 'making' ? data.share : 0;
  return (
    <>
      <img src={poster} alt={picture.name} style={FILL} />
      {data ? (
        <div
          style={{ position: 'absolute', left: 16, right: 16, bottom: 16, display: 'flex', justifyContent: 'center' }}
        >
          <View className="w-full max-w-note gap-2 rounded-act bg-card p-4" role="status">
            {stopped ? (
              <>
                <Words kind="strong">{t`Stopped`}</Words>
                <Words kind="small">{t`The original stays as it came. You can save it.`}</Words>
                <Button label={t`Prepare it`} weight="second" onPress={() => setStopped(false)} />
              </>
            ) : data.state === 'making' ? (
              <>
                <Words kind="strong">{t`Preparing the clip: ${sayShare(share)}`}</Words>
                <DoubleBar share={share} width={'100%' as unknown as number} label={t`Preparing the clip`} />
                <Words kind="small">{t`Browsers can’t play ${picture.format.toUpperCase()} directly. The original stays as it came.`}</Words>
                <Button
                  label={t`Stop`}
                  weight="quiet"
                  onPress={() => {
                    setStopped(true);
                    void call('stopConverting', { params: { id: picture.id } }).catch(trouble);
                  }}
                />
              </>
            ) : (
              <>
                <Words kind="strong">{t`Can’t be played here`}</Words>
                <Words kind="small">{t`The clip couldn’t be converted. The original is safe; you can save it.`}</Words>
                <Button
                  label={t`Try again`}
                  weight="second"
                  onPress={() =>
                    void call('troubles', {}).then(async ({ troubles }) => {
                      const mine = troubles.find((one) => one.about === picture.id && one.kind === 'transcode');
                      if (mine) await call('retryTrouble', { params: { id: mine.id } });
                      setBroken(false);
                      refresh('playable');
                    }, trouble)
                  }
                />
              </>
            )}
          </View>
        </div>
      ) : null}
    </>
  );
}
