import { reason } from '@gemmel/contract';
import { Failed } from '../problem';

/** A file that is no whole picture, with the reason. */
export class Damaged extends Failed {}

/** A whole file of a kind that nothing here can open yet. */
export class Closed extends Damaged {
  constructor() {
    super(reason('closed'));
  }
}
