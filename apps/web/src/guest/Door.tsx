import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { enter, Refusal, wordsOf } from './api';
import { Panel } from './Panel';

/** Asks for the word of a share. */
export function WordDoor({ onIn }: { onIn: () => void }) {
  const [word, setWord] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const come = async () => {
    setBusy(true);
    try {
      await enter({ word });
      onIn();
    } catch (error) {
      setWrong(wordsOf(error));
      setBusy(false);
    }
  };
  return (
    <main className="door">
      <h1>{t`Somebody has sent you pictures`}</h1>
      <p>{t`Whoever sent you the link has told you a word.`}</p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void come();
        }}
      >
        <label>
          {t`The word`}
          <input
            value={word}
            onChange={(event) => setWord(event.target.value)}
            autoCapitalize="none"
            autoComplete="off"
            maxLength={80}
            autoFocus
          />
        </label>
        {wrong ? <p role="alert">{wrong}</p> : null}
        <button type="submit" className="main" disabled={busy || !word.trim()}>
          {t`Come in`}
        </button>
      </form>
    </main>
  );
}

/** A share that cannot be opened, in kind words. */
export function Gone({ error, again }: { error: unknown; again: () => void }) {
  const over = error instanceof Refusal && error.status >= 400 && error.status < 500;
  return (
    <main className="door">
      <h1>{over ? t`This share isn’t open` : t`One moment`}</h1>
      <p>{wordsOf(error)}</p>
      {over ? null : (
        <button type="button" className="second" onClick={again}>
          {t`Try again`}
        </button>
      )}
    </main>
  );
}

/** Asks by which name a guest goes, before they say or add something. */
export function NamePanel({ onNamed, onClose }: { onNamed: (name: string) => void; onClose: () => void }) {
  const [name, setName] = useState('');
  const [wrong, setWrong] = useState('');
  const keep = async () => {
    try {
      const told = await enter({ name: name.trim() });
      onNamed(told.name ?? name.trim());
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Panel title={t`What are you called?`} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <label>
          {t`Your name`}
          <input value={name} onChange={(event) => setName(event.target.value)} maxLength={80} autoFocus />
        </label>
        <p className="soft">{t`It stands beside what you write and add.`}</p>
        {wrong ? <p role="alert">{wrong}</p> : null}
        <button type="submit" className="main" disabled={!name.trim()}>
          {t`Go on`}
        </button>
      </form>
    </Panel>
  );
}
