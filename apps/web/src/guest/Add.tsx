import type { Addition, GuestShare } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';
import { sayBytes, sayShare } from '@/ui/say';
import { additions, announce, Refusal, takeAddition, wordsOf } from './api';
import { Panel } from './Panel';
import { sendAll } from './sending';

const STATES: Record<Addition['state'], MessageDescriptor> = {
  coming: msg`on its way`,
  waiting: msg`waits for a yes`,
  shown: msg`in the share`,
  known: msg`in the share`,
  refused: msg`not taken`,
  failed: msg`couldn’t be read`,
};

/** How often it is asked what became of what is on its way, in ms. */
const AGAIN = 2500;

/** Adds pictures and clips of a guest's own, and says what became of those they added. */
export function Add({
  share,
  onShown,
  onClose,
}: {
  share: GuestShare;
  /** Told when more may be shown. */
  onShown: () => void;
  onClose: () => void;
}) {
  const [list, setList] = useState<Addition[]>([]);
  const [sent, setSent] = useState<{ done: number; of: number } | null>(null);
  const [wrong, setWrong] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const sending = sent !== null;
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let over = false;
    const again = () => {
      if (!over) timer = setTimeout(() => void read(), AGAIN);
    };
    const read = () =>
      additions().then(
        ({ additions: now }) => {
          if (over) return;
          setList(now);
          if (now.some(({ state }) => state === 'coming')) again();
        },
        (error: unknown) => {
          // A share that says no, because it has ended, is not asked again and again.
          if (!(error instanceof Refusal) || error.status >= 500) again();
        },
      );
    void read();
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [sending]);
  const send = async (files: File[]) => {
    setWrong('');
    try {
      const before = new Set(list.map(({ item }) => item));
      const { additions: all } = await announce(files.map((file) => ({ name: file.name, bytes: file.size })));
      const fresh = all.filter(({ item }) => !before.has(item));
      const of = files.reduce((sum, file) => sum + file.size, 0);
      setSent({ done: 0, of });
      stop.current = new AbortController();
      await sendAll(
        files.map((file, i) => ({ file, item: fresh[i]!.item })),
        (done) => setSent({ done, of }),
        stop.current.signal,
      );
      if (share.may.shown) onShown();
    } catch (error) {
      if (!stop.current?.signal.aborted) setWrong(wordsOf(error));
    }
    setSent(null);
  };
  const take = (item: number) =>
    takeAddition(item).then(
      () => setList((old) => old.map((one) => (one.item === item ? { ...one, state: 'refused' } : one))),
      (error: unknown) => setWrong(wordsOf(error)),
    );
  return (
    <Panel title={t`Add your pictures`} onClose={onClose}>
      <p>
        {share.may.shown
          ? t`They’re shown here as soon as they’ve arrived.`
          : t`${share.from} sees them first, and says which are shown here.`}
      </p>
      <input
        ref={input}
        type="file"
        accept="image/*,video/*"
        multiple
        hidden
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          if (files.length) void send(files);
        }}
      />
      {sent ? (
        <div role="status">
          <div className="bar">
            <span style={{ width: `${(100 * sent.done) / Math.max(1, sent.of)}%` }} />
          </div>
          <p>{t`${sayShare(sent.done / Math.max(1, sent.of))} sent, ${sayBytes(sent.of - sent.done)} to go`}</p>
          <button type="button" className="second" onClick={() => stop.current?.abort()}>
            {t`Stop`}
          </button>
        </div>
      ) : (
        <button type="button" className="main" onClick={() => input.current?.click()}>
          {t`Choose pictures and clips`}
        </button>
      )}
      {wrong ? <p role="alert">{wrong}</p> : null}
      {list.length ? (
        <>
          <h3>{plural(list.length, { one: 'You’ve added # file', other: 'You’ve added # files' })}</h3>
          <ul className="added">
            {list.map((one) => (
              <li key={one.item}>
                <span className="name">{one.name}</span> <small>{i18n._(STATES[one.state])}</small>
                {one.state === 'waiting' || (one.state === 'coming' && !sent) ? (
                  <button type="button" className="quiet" onClick={() => void take(one.item)}>
                    {t`Take it back`}
                  </button>
                ) : null}
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </Panel>
  );
}
