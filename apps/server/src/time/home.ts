import { localAt, offsetAt } from '@gemmel/core';
import type { Db } from '../db/open';

/** The time zone of this machine, for libraries that have said nothing else. */
export const MACHINE = Intl.DateTimeFormat().resolvedOptions().timeZone;
/** How long a zone is remembered before the database is asked again, in ms. */
const FRESH = 2000;
const known = new WeakMap<object, Map<number, { zone: string; until: number }>>();

/** The time zone a library's household lives in (IANA name), for instants nothing else places and for what day it is. */
export async function homeOf(db: Db, library: number): Promise<string> {
  const zones = known.get(db) ?? new Map<number, { zone: string; until: number }>();
  known.set(db, zones);
  const there = zones.get(library);
  if (there && there.until > Date.now()) return there.zone;
  const row = await db('libraries').where('id', library).first('zone');
  const zone = row?.zone ?? MACHINE;
  zones.set(library, { zone, until: Date.now() + FRESH });
  return zone;
}

/** Forgets a library's zone in this process, once it has been changed. */
export const forgetHome = (db: Db, library: number): void => void known.get(db)?.delete(library);

/** The calendar day in a zone at an instant, `YYYY-MM-DD`. */
export const dayIn = (zone: string, at = Date.now()): string => localAt(at, offsetAt(zone, at) ?? 0).slice(0, 10);

/** What day it is where a library is at home. */
export const todayIn = async (db: Db, library: number): Promise<string> => dayIn(await homeOf(db, library));
