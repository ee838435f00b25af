import { t } from '@lingui/core/macro';
import type { PieceSettings } from '@gemmel/contract';
import { ShowFields } from '@/features/show/ShowFields';
import { Switch } from '@/ui/Switch';
import { Choice } from '@/ui/Choice';

type Film = Extract<PieceSettings, { kind: 'film' }>;

/** How a film is made: its size, and how its show is played. */
export function FilmFields({ settings, onChange }: { settings: Film; onChange: (settings: Film) => void }) {
  const set = (more: Partial<Film>) => onChange({ ...settings, ...more });
  return (
    <>
      <Choice
        label={t`Screen`}
        of={[
          ['wide', t`Wide`],
          ['upright', t`Upright, for phones`],
        ]}
        value={settings.shape}
        onChoose={(shape) => set({ shape })}
      />
      <Choice
        label={t`How fine`}
        of={[
          [720, t`720 lines: smaller, sooner made`],
          [1080, t`1080 lines: for a television`],
        ]}
        value={settings.lines}
        onChoose={(lines) => set({ lines })}
      />
      <ShowFields settings={settings.show} mayChange onChange={(show) => set({ show })} />
      <Switch
        label={t`Clips are heard; music grows quiet under them`}
        shown
        on={settings.sound}
        onTurn={() => set({ sound: !settings.sound })}
      />
    </>
  );
}
