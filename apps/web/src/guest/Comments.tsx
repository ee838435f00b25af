import type { GuestComment } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useEffect, useState } from 'react';
import { sayWhen } from '@/ui/say';
import { comment, commentsOf, takeComment, wordsOf } from './api';
import { Panel } from './Panel';

/** Somebody of the house, told from a guest who took the same name. */
const ofTheHouse = (author: string): string => t`${author}, of the house`;

/** What guests wrote about a picture, and what the house answered; and a line to write on. */
export function Comments({
  id,
  closed,
  named,
  onCount,
  onClose,
}: {
  id: number;
  /** Whether it is to be read alone. */
  closed: boolean;
  named: (then: () => void) => void;
  onCount: (comments: number) => void;
  onClose: () => void;
}) {
  const [list, setList] = useState<GuestComment[] | null>(null);
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState('');
  const show = (comments: GuestComment[]) => {
    setList(comments);
    onCount(comments.length);
  };
  useEffect(() => {
    commentsOf(id).then(
      ({ comments }) => setList(comments),
      (error: unknown) => setWrong(wordsOf(error)),
    );
  }, [id]);
  const write = () =>
    named(() => {
      setWrong('');
      comment(id, text.trim()).then(
        ({ comments }) => {
          show(comments);
          setText('');
        },
        (error: unknown) => setWrong(wordsOf(error)),
      );
    });
  const take = (one: GuestComment) =>
    takeComment(one.id).then(
      () => show((list ?? []).filter((other) => other.id !== one.id)),
      (error: unknown) => setWrong(wordsOf(error)),
    );
  return (
    <Panel title={t`What was written`} onClose={onClose}>
      {list?.length === 0 ? <p className="soft">{t`Nobody has written anything yet.`}</p> : null}
      <ul className="comments">
        {list?.map((one) => (
          <li key={one.id}>
            <strong>{one.house ? ofTheHouse(one.author) : one.author}</strong> <small>{sayWhen(one.at)}</small>
            <p>{one.text}</p>
            {one.mine ? (
              <button type="button" className="quiet" onClick={() => void take(one)}>
                {t`Take it back`}
              </button>
            ) : null}
          </li>
        ))}
      </ul>
      {closed ? (
        <p className="soft">{t`Nothing more is written here.`}</p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            write();
          }}
        >
          <label>
            {t`Write something`}
            <textarea value={text} onChange={(event) => setText(event.target.value)} maxLength={2000} rows={3} />
          </label>
          {wrong ? <p role="alert">{wrong}</p> : null}
          <button type="submit" className="main" disabled={!text.trim()}>
            {t`Send`}
          </button>
        </form>
      )}
    </Panel>
  );
}
