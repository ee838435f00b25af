/** Something that keeps Gemmel from starting or a command from working, in one plain sentence. */
export class CannotStart extends Error {}
