/** A file that is no whole picture; the message says why in plain words. */
export class Damaged extends Error {}
