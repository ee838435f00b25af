import { deviceName } from '@gemmel/core';
import type { Db } from '../db/open';

/** The device of a make and model, made when it is met for the first time. */
export async function meetDevice(db: Db, library: number, make: string, model: string): Promise<number> {
  const row = { library_id: library, make: make.slice(0, 120), model: model.slice(0, 120) };
  await db('devices')
    .insert({ ...row, name: deviceName(row.make, row.model).slice(0, 160) })
    .onConflict(['library_id', 'make', 'model'])
    .ignore();
  return (await db('devices').where(row).first('id'))!.id;
}
