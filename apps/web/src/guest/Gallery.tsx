import type { GuestPicture, GuestShare } from '@gemmel/contract';
import { justify, places } from '@gemmel/core/layout/justify';
import { t } from '@lingui/core/macro';
import { useMemo, useRef } from 'react';
import { sayClock } from '@/ui/say';
import { placeholder } from '@/ui/thumb';
import { useSize } from '@/ui/useSize';
import { pictureAt } from './api';
import { Sign } from './Sign';
import { sayGuestDay, sayPicture } from './words';

const GAP = 3;

/** Pictures that stand under one heading: of a chapter, or a day. */
interface Section {
  heading: string | null;
  note: string | null;
  from: number;
  to: number;
}

/** The headings of a share: its chapters where it has some, else its days where it tells them and is in their order. */
export function sectionsOf({ pictures, chapters }: Pick<GuestShare, 'pictures' | 'chapters'>): Section[] {
  if (chapters.length) {
    const cuts = [{ at: 0, heading: null, note: null }, ...chapters];
    return cuts
      .map((cut, i) => ({ heading: cut.heading, note: cut.note, from: cut.at, to: cuts[i + 1]?.at ?? pictures.length }))
      .filter((one) => one.to > one.from || one.heading !== null || one.note !== null);
  }
  const sections: Section[] = [];
  const seen = new Set<string>();
  for (const [i, { day }] of pictures.entries()) {
    const heading = day === null ? null : sayGuestDay(day);
    const last = sections.at(-1);
    if (last && last.heading === heading) last.to = i + 1;
    // A day that comes again further down would say that the order is another: then there are no headings.
    else if (heading !== null && seen.has(heading))
      return [{ heading: null, note: null, from: 0, to: pictures.length }];
    else {
      sections.push({ heading, note: null, from: i, to: i + 1 });
      if (heading !== null) seen.add(heading);
    }
  }
  return sections.length ? sections : [{ heading: null, note: null, from: 0, to: 0 }];
}

/** The pictures of a share in justified rows, under their headings. While `chosen` is there, pressing chooses. */
export function Gallery({
  share,
  chosen,
  onOpen,
}: {
  share: GuestShare;
  chosen: ReadonlySet<number> | null;
  onOpen: (at: number) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { pictures } = share;
  const sections = useMemo(() => sectionsOf(share), [share]);
  const ratios = useMemo(() => pictures.map((p) => p.shape), [pictures]);
  const rowHeight = width > 700 ? 230 : 140;
  return (
    <div ref={box} className="gallery">
      {width === 0
        ? null
        : sections.map(({ heading, note, from, to }) => (
            <section key={from} aria-label={heading ?? undefined}>
              {heading ? <h2>{heading}</h2> : null}
              {note ? <p className="note">{note}</p> : null}
              {justify(ratios, from, to, { width, rowHeight, gap: GAP }).map((row) => (
                <div key={row.from} className="row" style={{ height: row.height }}>
                  {places(ratios, row, GAP).map((cell, i) => {
                    const at = row.from + i;
                    return (
                      <Cell
                        key={pictures[at]!.id}
                        picture={pictures[at]!}
                        label={sayPicture(pictures[at]!, at, pictures.length)}
                        left={cell.left}
                        width={cell.width}
                        on={chosen ? chosen.has(pictures[at]!.id) : null}
                        soon={at < 12}
                        onPress={() => onOpen(at)}
                      />
                    );
                  })}
                </div>
              ))}
            </section>
          ))}
    </div>
  );
}

function Cell({
  picture,
  label,
  left,
  width,
  on,
  soon,
  onPress,
}: {
  picture: GuestPicture;
  label: string;
  left: number;
  width: number;
  on: boolean | null;
  soon: boolean;
  onPress: () => void;
}) {
  const said = picture.hearts + picture.comments;
  return (
    <button
      type="button"
      className={`cell${on ? ' on' : ''}`}
      style={{ left, width, backgroundImage: placeholder(picture.thumb) }}
      aria-label={label}
      aria-pressed={on ?? undefined}
      onClick={onPress}
    >
      <img src={pictureAt(picture.id, 'small')} alt="" loading={soon ? 'eager' : 'lazy'} decoding="async" />
      {picture.kind === 'video' ? <span className="badge right">{`▸ ${sayClock(picture.seconds ?? 0)}`}</span> : null}
      {said ? (
        <span className="badge left">
          <Sign name={picture.hearts ? 'heart' : 'says'} size={13} filled={picture.hearts > 0} /> {said}
        </span>
      ) : null}
      {on === null ? null : <span className="tick">{on ? <Sign name="tick" size={16} /> : null}</span>}
      <span className="hidden">{on ? t`chosen` : ''}</span>
    </button>
  );
}
