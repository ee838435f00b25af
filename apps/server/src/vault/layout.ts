import { VAULT_LAYOUTS, vaultFolder, type VaultLayout } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { jobState } from '../jobs/jobs';

/** How a library's folders are laid out. */
export async function layoutOf(app: App, library: number): Promise<VaultLayout> {
  const row = (await app.db('libraries').where('id', library).first('layout')) as { layout: VaultLayout };
  return row.layout;
}

/** The layout of the vault, what each would look like, and how far a change of it is. */
export async function vaultLayout(app: App, library: number) {
  const moving = (await jobState(app.db, library, 'refile'))?.progress ?? null;
  const spent = moving ? (Date.now() - moving.since) / 1000 : 0;
  return {
    layout: await layoutOf(app, library),
    examples: VAULT_LAYOUTS.map((layout) => ({
      layout,
      example: vaultFolder('2026-05-16', { title: 'Kite day', start: '2026-05-16' }, layout),
    })),
    moving: moving && {
      done: moving.done,
      of: moving.of,
      secondsLeft: moving.done >= 20 ? Math.round((spent / moving.done) * (moving.of - moving.done)) : null,
    },
  };
}

/** Lays the folders out in another way; the files follow in the background. */
export const setVaultLayout = (app: App, by: By, layout: VaultLayout): Promise<{ act: number | null }> =>
  perform(app, by, 'layout', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ layout });
    words({ to: layout });
  });
