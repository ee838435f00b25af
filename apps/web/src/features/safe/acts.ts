import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { trouble } from '@/state/toast';

/** Does something with a place, and shows how it stands then. */
export const atPlace = (name: 'bringUpToDate' | 'stopSafe' | 'rehearse' | 'checkSafePlace', id: number): void =>
  void call(name, { params: { id } }).then(() => refresh('safekeeping'), trouble);
