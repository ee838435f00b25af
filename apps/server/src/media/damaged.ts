/** A file that is no whole picture; the message says why in plain words. */
export class Damaged extends Error {}

/** A whole file of a kind that nothing here can open yet. */
export class Closed extends Damaged {
  constructor() {
    super('is of a kind Gemmel cannot open yet');
  }
}
