import { t } from '@lingui/core/macro';
import type { ShowSlide } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { call, Told, wordsOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Rings } from '@/ui/Rings';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { ACROSS, Player } from './Show';
import type { ShowHouse } from './useShow';

const KEPT = 'gemmel-wall';
/** How often a screen looks whether it was confirmed, and whether what it shows has changed, in ms. */
const LOOK = { waiting: 3000, on: 60_000 } as const;

const remembered = (): string | null => {
  try {
    return localStorage.getItem(KEPT);
  } catch {
    return null;
  }
};

/** A television or tablet begins here, without anybody signed in: it gets a secret of its own and remembers it. */
export function WallBegin() {
  const router = useRouter();
  const [error, setError] = useState<unknown>(null);
  const [again, setAgain] = useState(0);
  useEffect(() => {
    const token = remembered();
    if (token) {
      router.replace({ pathname: '/show/[token]', params: { token } });
      return;
    }
    let gone = false;
    call('openWall', {}).then(
      ({ token: made }) => {
        if (gone) return;
        try {
          localStorage.setItem(KEPT, made);
        } catch {
          // This browser keeps nothing: then the page's own address does.
        }
        router.replace({ pathname: '/show/[token]', params: { token: made } });
      },
      (reason: unknown) => !gone && setError(reason),
    );
    return () => {
      gone = true;
    };
  }, [router, again]);
  return (
    <Still>
      {error ? (
        <>
          <Words className="text-center text-lead" style={{ color: '#f0eadd' }}>
            {wordsOf(error)}
          </Words>
          <Button
            label={t`Try again`}
            onPress={() => {
              setError(null);
              setAgain((old) => old + 1);
            }}
          />
        </>
      ) : (
        <Waiting />
      )}
    </Still>
  );
}

/** What stands on a screen while it plays nothing. */
function Still({ children }: { children: React.ReactNode }) {
  const wide = useWide();
  return (
    <main
      style={{
        height: '100%',
        overflow: 'auto',
        background: '#131a19',
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        justifyContent: 'center',
        gap: 22,
        padding: 32,
        zoom: wide ? ACROSS : 1,
      }}
    >
      <Rings size={84} />
      {children}
    </main>
  );
}

/** Picture details of the show on a wall, a page of them around the slide on screen. */
function useWallSlides(token: string, ids: readonly number[]): ReadonlyMap<number, ShowSlide> {
  const [known, setKnown] = useState<ReadonlyMap<number, ShowSlide>>(new Map());
  const key = ids.join();
  useEffect(() => {
    let gone = false;
    void (async () => {
      const all = key ? key.split(',').map(Number) : [];
      const found = new Map<number, ShowSlide>();
      for (let i = 0; i < all.length && !gone; i += 200) {
        const { slides } = await call('wallSlides', { params: { token }, body: { ids: all.slice(i, i + 200) } });
        for (const slide of slides) found.set(slide.id, slide);
        if (!gone) setKnown(new Map(found));
      }
    })().catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [token, key]);
  return known;
}

/** So many pictures of a show are on a wall at once; of a larger one they are drawn anew each time it is looked up. */
const MOST = 2000;

/** A show on a wall, without menus: first its code, then its pictures, looked up anew once a minute. */
export function WallPage({ token }: { token: string }) {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('wall', { params: { token } });
  const on = data?.state === 'on';
  useEffect(() => {
    const timer = setInterval(() => void refetch(), on ? LOOK.on : LOOK.waiting);
    return () => clearInterval(timer);
  }, [on, refetch]);
  const ended = error instanceof Told && (error.status === 410 || error.status === 404);
  const pictures = useMemo(() => (data?.state === 'on' ? data.show.pictures.slice(0, MOST) : []), [data]);
  const ids = useMemo(() => pictures.map((one) => one.id), [pictures]);
  const known = useWallSlides(token, ids);
  const house = useMemo((): Pick<ShowHouse, 'data' | 'error' | 'large' | 'play' | 'known'> | null => {
    if (data?.state !== 'on') return null;
    const at = (id: number, size: string) => `/api/wall/${encodeURIComponent(token)}/pictures/${id}/${size}`;
    return {
      data: { ...data.show, pictures },
      error: null,
      known,
      large: (slide) => at(slide.id, 'large'),
      play: (slide) => at(slide.id, 'play'),
    };
  }, [data, pictures, known, token]);
  if (ended)
    return (
      <Still>
        <Words
          className="text-center text-lead"
          style={{ color: '#f0eadd' }}
        >{t`This screen no longer plays anything.`}</Words>
        <Button
          label={t`Show a new code`}
          onPress={() => {
            try {
              localStorage.removeItem(KEPT);
            } catch {
              // Nothing was kept.
            }
            router.replace('/show');
          }}
        />
      </Still>
    );
  if (data?.state === 'waiting')
    return (
      <Still>
        <Words className="text-center text-lead" style={{ color: '#a7b3ad' }}>
          {t`On your phone, open Sharing and choose “Put a show on a screen”. Then enter this code:`}
        </Words>
        <Words
          role="status"
          aria-label={t`The code: ${data.code}`}
          className="text-center font-serif text-figure"
          style={{ color: '#f0eadd', letterSpacing: 6 }}
        >
          {`${data.code.slice(0, 3)} ${data.code.slice(3)}`}
        </Words>
      </Still>
    );
  if (!house || data?.state !== 'on')
    return (
      <Still>
        {error ? (
          <Words className="text-center text-lead" style={{ color: '#f0eadd' }}>
            {wordsOf(error)}
          </Words>
        ) : (
          <Waiting />
        )}
      </Still>
    );
  return (
    <main style={{ height: '100%', background: '#0b100f' }}>
      <Player
        house={house}
        title={data.title ?? data.show.title ?? ''}
        settings={data.settings}
        music={data.settings.music.flatMap((id) => data.music.find((piece) => piece.id === id) ?? [])}
        musicAt={(id) => `/api/wall/${encodeURIComponent(token)}/music/${id}`}
        sheet={null}
        onClose={null}
      />
    </main>
  );
}
