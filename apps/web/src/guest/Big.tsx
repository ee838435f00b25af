import type { GuestShare } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';
import { Viewer } from '@/ui/Viewer';
import { heart, pictureAt } from './api';
import { Comments } from './Comments';
import { Sign, SignButton } from './Sign';
import { sayGuestDay, sayPicture } from './words';

/** One picture at a time, as large as the screen: next and before by swipe, keys and buttons. */
export function Big({
  share,
  at,
  onGo,
  onChange,
  named,
}: {
  share: GuestShare;
  at: number;
  onGo: (at: number | null) => void;
  /** Told when a guest has said something of a picture. */
  onChange: (id: number, change: Partial<GuestShare['pictures'][number]>) => void;
  /** Does something once the guest has a name. */
  named: (then: () => void) => void;
}) {
  const { pictures, may } = share;
  const picture = pictures[at]!;
  const box = useRef<HTMLDivElement>(null);
  const [saying, setSaying] = useState(false);
  const [full, setFull] = useState(false);
  const before = at > 0 ? () => onGo(at - 1) : undefined;
  const next = at + 1 < pictures.length ? () => onGo(at + 1) : undefined;
  useEffect(() => box.current?.focus(), []);
  // The ones beside it are decoded before they are wanted.
  useEffect(() => {
    for (const near of [pictures[at + 1], pictures[at - 1]])
      if (near) {
        const image = new Image();
        image.src = pictureAt(near.id, 'large');
        image.decode().catch(() => undefined);
      }
  }, [at, pictures]);
  useEffect(() => {
    const changed = () => setFull(document.fullscreenElement !== null);
    document.addEventListener('fullscreenchange', changed);
    return () => document.removeEventListener('fullscreenchange', changed);
  }, []);
  const flip = () =>
    void (full ? document.exitFullscreen() : box.current?.requestFullscreen?.())?.catch(() => undefined);
  const love = () =>
    void heart(picture.id, !picture.heart).then(
      ({ hearts }) => onChange(picture.id, { hearts, heart: !picture.heart }),
      () => undefined,
    );
  const told = [
    picture.day ? sayGuestDay(picture.day) : '',
    picture.town ? picture.town.name : '',
    picture.names.join(', '),
  ].filter(Boolean);
  return (
    <div
      ref={box}
      className="big"
      role="dialog"
      aria-modal="true"
      aria-label={sayPicture(picture, at, pictures.length)}
      tabIndex={-1}
      onKeyDown={(event) => {
        if (event.key === 'ArrowRight') next?.();
        else if (event.key === 'ArrowLeft') before?.();
        else if (event.key === 'f') flip();
        else if (event.key === 'Escape' && !full) onGo(null);
      }}
    >
      <Viewer
        key={picture.id}
        picture={{
          id: picture.id,
          thumb: picture.thumb,
          kind: picture.kind,
          width: picture.shape * 1000,
          height: 1000,
          name: sayPicture(picture, at, pictures.length),
        }}
        src={pictureAt(picture.id, 'large')}
        original={pictureAt(picture.id, picture.kind === 'video' ? 'play' : 'large')}
        onNext={next}
        onBefore={before}
      />
      <div className="top">
        <SignButton name="away" label={t`Back to all pictures`} onPress={() => onGo(null)} />
        <span aria-live="polite">{t`${at + 1} of ${pictures.length}`}</span>
        <span className="signs">
          {may.say ? (
            <>
              {may.closed ? null : (
                <SignButton
                  name="heart"
                  pressed={picture.heart}
                  label={picture.heart ? t`Take the heart back` : t`Give it a heart`}
                  onPress={love}
                />
              )}
              {may.closed && !picture.comments ? null : (
                <SignButton
                  name="says"
                  label={
                    picture.comments
                      ? plural(picture.comments, { one: '# comment', other: '# comments' })
                      : t`Write something about it`
                  }
                  onPress={() => setSaying(true)}
                />
              )}
            </>
          ) : null}
          {document.fullscreenEnabled ? (
            <SignButton name="whole" label={full ? t`Leave full screen` : t`Full screen`} onPress={flip} />
          ) : null}
          {may.save === 'nothing' ? null : (
            <a
              className="sign"
              href={`${pictureAt(picture.id, may.save === 'full' ? 'original' : 'screen')}?save`}
              download
              aria-label={may.save === 'full' ? t`Save this picture at full size` : t`Save this picture`}
            >
              <Sign name="download" />
            </a>
          )}
        </span>
      </div>
      {before ? (
        <button type="button" className="side before" aria-label={t`The one before`} onClick={before}>
          <Sign name="left" size={26} />
        </button>
      ) : null}
      {next ? (
        <button type="button" className="side next" aria-label={t`The next one`} onClick={next}>
          <Sign name="right" size={26} />
        </button>
      ) : null}
      {picture.title || picture.caption || told.length ? (
        <div className="told">
          {picture.title ? <strong>{picture.title}</strong> : null}
          {picture.caption ? <p>{picture.caption}</p> : null}
          {told.length ? <small>{told.join(' · ')}</small> : null}
        </div>
      ) : null}
      {saying ? (
        <Comments
          closed={may.closed}
          id={picture.id}
          named={named}
          onCount={(comments) => onChange(picture.id, { comments })}
          onClose={() => setSaying(false)}
        />
      ) : null}
    </div>
  );
}
