// Its sentence is in a voice that is there from the beginning.
import './words/speech';

/** Something that keeps Gemmel from starting or a command from working, in one plain sentence. */
export class CannotStart extends Error {}

/** The database is lost, damaged, or half built, while originals are there: it can be made anew from the files. */
export class LostDatabase extends CannotStart {}
