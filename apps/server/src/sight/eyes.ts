import { LRUCache } from 'lru-cache';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { sightOf } from './sight';
import { appThrough } from './through';

/** How long it is remembered, in ms, that somebody of the house sees everything: a grid of pictures asks many times a second. */
const SEES_ALL = 1000;

/** The application as each of those sees it who are signed in. */
export class Eyes {
  private readonly seeAll = new LRUCache<number, true>({ max: 1000, ttl: SEES_ALL });

  constructor(private readonly app: App) {}

  /** The application as somebody sees it now; `reads` for a request that changes nothing. */
  async of(session: Session, reads: boolean): Promise<App> {
    if (reads && session.part !== 'relative' && this.seeAll.has(session.member)) return this.app;
    const sight = await sightOf(this.app.db, session);
    if (!sight && session.part !== 'account') this.seeAll.set(session.member, true);
    return appThrough(this.app, sight);
  }

  /** To be called when who sees what has changed. */
  forget(): void {
    this.seeAll.clear();
  }
}
