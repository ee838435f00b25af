import type { GuestShare } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useCallback, useEffect, useLayoutEffect, useState } from 'react';
import { sayBytes, sayDay, sayList } from '@/ui/say';
import { Add } from './Add';
import { look, pictureAt, Refusal, zipAt } from './api';
import { Big } from './Big';
import { Gone, NamePanel, WordDoor } from './Door';
import { Gallery } from './Gallery';
import { Play } from './Play';
import { Sign } from './Sign';

/** What a guest sees who opened a link. */
export function App() {
  const [share, setShare] = useState<GuestShare | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [tried, setTried] = useState(0);
  const again = useCallback(() => setTried((n) => n + 1), []);
  useEffect(() => {
    look().then(
      (told) => {
        setShare(told);
        setError(null);
        document.title = told.title;
      },
      (wrong: unknown) => setError(wrong),
    );
  }, [tried]);
  // What the server drew stays until there is something to stand in its place.
  const here = Boolean(error) || share !== null;
  useLayoutEffect(() => {
    if (here) document.getElementById('first')?.remove();
  }, [here]);
  if (error instanceof Refusal && error.saying?.code === 'share-word') return <WordDoor onIn={again} />;
  if (error) return <Gone error={error} again={again} />;
  if (!share) return null;
  return <Shared share={share} onChange={setShare} again={again} />;
}

function Shared({
  share,
  onChange,
  again,
}: {
  share: GuestShare;
  onChange: (share: GuestShare) => void;
  again: () => void;
}) {
  const { pictures, may } = share;
  const [open, setOpen] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  const [adding, setAdding] = useState(false);
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const [then, setThen] = useState<(() => void) | null>(null);
  const named = (act: () => void) => (share.name ? act() : setThen(() => act));
  const change = (id: number, part: Partial<GuestShare['pictures'][number]>) =>
    onChange({ ...share, pictures: pictures.map((one) => (one.id === id ? { ...one, ...part } : one)) });
  const choose = (at: number) => {
    const id = pictures[at]!.id;
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const first = pictures[0];
  return (
    <>
      <main>
        {first ? <img className="hero" src={pictureAt(first.id, 'large')} alt="" /> : null}
        <div className="head">
          <h1>{share.title}</h1>
          <p className="soft">
            {[
              plural(pictures.length, { one: `# picture from ${share.from}`, other: `# pictures from ${share.from}` }),
              share.until ? t`open until ${sayDay(share.until)}` : '',
              share.others.length ? t`${sayList(share.others.slice(0, 6))} looked, too` : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          </p>
          <div className="acts">
            {first ? (
              <button type="button" className="main" onClick={() => setPlaying(true)}>
                <Sign name="play" size={17} /> {t`Play`}
              </button>
            ) : null}
            {may.add ? (
              <button type="button" className="second" onClick={() => named(() => setAdding(true))}>
                <Sign name="plus" size={17} /> {t`Add your pictures`}
              </button>
            ) : null}
            {first && may.save !== 'nothing' ? (
              chosen ? (
                <>
                  <a
                    className={`second${chosen.size ? '' : ' off'}`}
                    {...(chosen.size ? { href: zipAt([...chosen]) } : {})}
                    download
                  >
                    <Sign name="download" size={17} />{' '}
                    {plural(chosen.size, { 0: 'Choose pictures', one: 'Save # picture', other: 'Save # pictures' })}
                  </a>
                  <button type="button" className="quiet" onClick={() => setChosen(null)}>
                    {t`Done choosing`}
                  </button>
                </>
              ) : (
                <>
                  <a className="second" href={zipAt(null)} download>
                    <Sign name="download" size={17} />{' '}
                    {may.save === 'full' ? t`Save all at full size (${sayBytes(share.bytes)})` : t`Save all`}
                  </a>
                  {pictures.length > 1 ? (
                    <button type="button" className="quiet" onClick={() => setChosen(new Set())}>
                      {t`Choose some`}
                    </button>
                  ) : null}
                </>
              )
            ) : null}
          </div>
          {first ? null : <p>{t`Nothing here yet.`}</p>}
        </div>
        <Gallery share={share} chosen={chosen} onOpen={chosen ? choose : setOpen} />
        <p className="foot soft">{t`${share.from} can see when this page is opened, on what kind of device, and what is saved. Nobody else can.`}</p>
      </main>
      {open !== null && pictures[open] ? (
        <Big share={share} at={open} onGo={setOpen} onChange={change} named={named} />
      ) : null}
      {playing && first ? <Play share={share} onClose={() => setPlaying(false)} /> : null}
      {adding ? <Add share={share} onShown={again} onClose={() => setAdding(false)} /> : null}
      {then ? (
        <NamePanel
          onNamed={(name) => {
            onChange({ ...share, name });
            setThen(null);
            then();
          }}
          onClose={() => setThen(null)}
        />
      ) : null}
    </>
  );
}
