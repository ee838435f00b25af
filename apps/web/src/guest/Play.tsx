import type { GuestShare } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';
import { pictureAt } from './api';
import { SignButton } from './Sign';
import { sayGuestDay, sayPicture } from './words';

/** How long a picture stays, in ms. */
const STAYS = 5000;

/** A share as a show: one picture after another, clips to their end, with what the share tells. */
export function Play({ share, onClose }: { share: GuestShare; onClose: () => void }) {
  const { pictures } = share;
  const [at, setAt] = useState(0);
  const [runs, setRuns] = useState(true);
  const [ready, setReady] = useState(-1);
  const box = useRef<HTMLDivElement>(null);
  const picture = pictures[at]!;
  const go = (by: number) => setAt((old) => (old + by + pictures.length) % pictures.length);
  useEffect(() => {
    box.current?.focus();
    void box.current?.requestFullscreen?.().catch(() => undefined);
    const lock = navigator.wakeLock?.request('screen').catch(() => null);
    return () => {
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
      void lock?.then((held) => held?.release());
    };
  }, []);
  useEffect(() => {
    const image = new Image();
    image.src = pictureAt(pictures[(at + 1) % pictures.length]!.id, 'large');
    image.decode().catch(() => undefined);
    if (!runs || picture.kind === 'video' || ready !== at) return;
    const timer = setTimeout(() => go(1), STAYS);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- "go" is another one with each drawing, and does the same.
  }, [at, runs, ready, pictures]);
  const told = [picture.title, picture.caption, picture.day ? sayGuestDay(picture.day) : null].filter(Boolean);
  return (
    <div
      ref={box}
      className="big show"
      role="dialog"
      aria-modal="true"
      aria-label={t`${share.title}, as a show`}
      tabIndex={-1}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
        else if (event.key === 'ArrowRight') go(1);
        else if (event.key === 'ArrowLeft') go(-1);
        else if (event.key === ' ') {
          event.preventDefault();
          setRuns(!runs);
        }
      }}
    >
      {picture.kind === 'video' ? (
        <video
          key={picture.id}
          src={pictureAt(picture.id, 'play')}
          poster={pictureAt(picture.id, 'large')}
          autoPlay
          playsInline
          onEnded={() => go(1)}
          onError={() => go(1)}
        />
      ) : (
        <img
          key={picture.id}
          className="fade"
          src={pictureAt(picture.id, 'large')}
          alt={sayPicture(picture, at, pictures.length)}
          onLoad={() => setReady(at)}
          onError={() => go(1)}
        />
      )}
      <div className="top">
        <SignButton name="away" label={t`End the show`} onPress={onClose} />
        <span>{t`${at + 1} of ${pictures.length}`}</span>
        <span className="signs">
          <SignButton
            name={runs ? 'pause' : 'play'}
            label={runs ? t`Pause` : t`Go on`}
            onPress={() => setRuns(!runs)}
          />
        </span>
      </div>
      {told.length ? (
        <div className="told">
          {told.map((line, i) => (
            <p key={i}>{line}</p>
          ))}
        </div>
      ) : null}
    </div>
  );
}
