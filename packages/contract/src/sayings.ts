import { z } from 'zod';

/**
 * A sentence without its words: what it says, and what it speaks of. The server and everything it keeps speak so; whoever reads is
 * told in their own language (docs/words.md). The English below is for logs, scripts and those who read neither.
 */
export const Saying = z.object({ code: z.string(), params: z.record(z.string(), z.union([z.string(), z.number()])) });
export type Saying = z.infer<typeof Saying>;

/** Names between braces in a text. */
type NamesIn<T extends string> = T extends `${string}{${infer Name}}${infer Rest}` ? Name | NamesIn<Rest> : never;
type Params<T extends string> = { [K in NamesIn<T>]: string | number };

/** What can be missing. */
export const THINGS = [
  'album',
  'asked',
  'batch',
  'card',
  'circle',
  'chapter',
  'clip',
  'clock',
  'comment',
  'device',
  'difference',
  'event',
  'face',
  'file',
  'invitation',
  'map',
  'mark',
  'member',
  'page',
  'passkey',
  'people',
  'person',
  'picture',
  'pictures',
  'pin',
  'place',
  'safe-place',
  'share',
  'shelf',
  'show',
  'tag',
  'work',
] as const;
export type Gone = (typeof THINGS)[number];

/** Why a request is refused: its status, and what it means in English. */
export const PROBLEMS = {
  'album-by-hand': [409, 'This album is filled by hand, not by a question.'],
  'album-fills-itself': [409, 'A smart album fills itself; change its question instead.'],
  'album-made': [409, 'The album of this batch has already been made.'],
  'already-in-picture': [
    409,
    'This person is already named in one of these pictures, and nobody is in a picture twice.',
  ],
  'bad-address': [
    400,
    'An address is a name with http or https before it and nothing behind it, such as https://pictures.example.',
  ],
  'bad-marker': [400, 'This page marker cannot be read.'],
  busy: [409, 'Somebody else is changing the same thing. Try again in a moment.'],
  'card-gone': [404, 'The card is no longer there.'],
  'circle-taken': [409, 'There is already a circle by this name.'],
  'clock-answered': [409, 'This clock has already been answered.'],
  'cover-of-another': [400, 'The cover must be a picture of the event.'],
  'database-away': [503, 'The database is being restarted. Nothing is lost; try again in a moment.'],
  'day-over': [400, 'That day is over. Choose one that is still to come.'],
  'device-taken': [409, 'There is already a device called “{name}”.'],
  'does-not-fit': [400, 'Something that was sent does not fit. Nothing has been changed.'],
  'ends-before-begins': [400, 'The last day cannot be before the first.'],
  'event-itself': [400, 'An event cannot be joined to itself.'],
  'face-marked': [409, 'This face is already marked. Touch its oval to say who it is.'],
  'foreign-page': [403, 'This request came from another page.'],
  'full-disk': [507, 'The disk is full. Everything stored is safe; the rest continues when there is space.'],
  gone: [404, 'The {thing} is no longer here.'],
  'here-already': [409, 'This is already here. Nothing has been changed.'],
  'address-taken': [409, 'There is an account with that address already. Sign in with it, then open the link again.'],
  'belongs-elsewhere': [
    403,
    'They belong to another library as well, so their password is not this library’s to set. Whoever runs Gemmel can make a link.',
  ],
  'invite-over': [404, 'This invitation is no longer good. Ask whoever sent it for a new one.'],
  'looking-only': [403, 'You are looking as somebody else does. Nothing can be changed from here.'],
  'sees-everything': [409, 'Keepers and helpers see everything. Only what a relative sees is chosen.'],
  'last-keeper': [409, 'A library needs a keeper. Make somebody else keeper first.'],
  'member-already': [409, 'They belong to this library already.'],
  'not-a-member': [403, 'You do not belong to this library.'],
  'password-not-yours': [403, 'That is not your password. Nothing has been changed.'],
  'reset-over': [404, 'This link is no longer good. Ask for a new one.'],
  'keeper-exists': [409, 'This library already has a keeper. Sign in instead.'],
  'link-unknown': [404, 'This link leads nowhere. Part of it may be missing; ask for it again.'],
  'mark-taken': [409, 'There is already a mark that means this.'],
  'marks-full': [409, 'A library has at most {n} marks.'],
  'name-taken': [409, 'You already know somebody by this name. If it is the same person, join the two.'],
  'no-longer-waited-for': [410, 'This file is no longer expected.'],
  'no-pictures-then': [400, 'No pictures were taken on these days.'],
  'no-room': [507, 'There is not enough space on the disk for all of this. Untick some, or make space.'],
  'no-mail': [409, 'No e-mail can be sent from here. It is set up in settings.json.'],
  'push-not-there': [400, 'This browser’s push service can’t be reached from here.'],
  'push-enough': [409, 'Ten browsers of yours are told already. Turn it off in one of them first.'],
  'mail-failed': [502, 'The mail server did not take the e-mail. Try again in a while.'],
  'mail-too-large': [413, 'Each of these is too large for an e-mail. Share them by a link instead.'],
  'no-room-now': [507, 'There is no space here right now to prepare this. Try again later.'],
  'not-a-date': [400, 'That is not a date. Write one like “16 May 2026 14:07”, “summer 1988” or “about 1960”.'],
  'not-allowed': [403, 'Your part in this library does not allow that.'],
  'not-as-announced': [400, 'The file is not as long as announced. Choose it again.'],
  'not-cleanable': [
    422,
    'This file cannot be shared without what is written inside it, so it is not shared. Ask whoever sent you the link.',
  ],
  'not-coming': [409, 'This batch is no longer coming in.'],
  'not-in-event': [400, 'This picture is not in the event.'],
  'not-json': [400, 'What was sent is not JSON.'],
  'not-stopped': [409, 'This batch was not paused.'],
  'not-whole': [400, 'The file did not arrive whole. Nothing is lost; send it again.'],
  'not-your-comment': [403, 'Only whoever wrote a comment can change it.'],
  'nothing-at': [404, 'There is nothing at {path}.'],
  'nothing-before': [400, 'The event begins with this picture, so there is nothing to split off before it.'],
  'nothing-ticked': [400, 'Nothing is ticked.'],
  'code-unknown': [404, 'No screen shows this code. Codes change after ten minutes; look at the screen again.'],
  'wall-ended': [410, 'This screen has been taken off the wall.'],
  'walls-full': [429, 'Too many screens are waiting. Try again in ten minutes.'],
  'no-music': [400, '“{name}” is no piece of music that can be played: MP3, M4A, OGG or FLAC.'],
  'nothing-to-number': [400, 'There are no pictures to number.'],
  'nothing-to-share': [400, 'There is nothing to share yet. Put pictures on the pile first.'],
  'page-stale': [403, 'This page is out of date. Load it again.'],
  'phones-only': [409, 'Only phones have a password.'],
  'pins-full': [409, 'At most {n} questions can be kept at hand.'],
  'portrait-of-another': [409, 'This portrait does not show this person.'],
  'same-person': [409, 'These are already one person.'],
  'same-picture': [
    409,
    'Two of these faces are in one picture, so they cannot both be the same person. Tap one away first.',
  ],
  'not-the-house': [409, 'The safekeeping of this house is looked after in its first library.'],
  'safe-address': [400, '“{address}” is no address of this kind of place.'],
  'safe-another': [409, 'Another backup lies there than the one Gemmel knows. Nothing has been written.'],
  'safe-away': [503, 'Nobody answers there. Nothing is lost; it is tried again.'],
  'safe-empty': [409, 'There is nothing at this place yet. Bring it up to date first.'],
  'safe-full': [507, 'There is no space left at that place.'],
  'safe-no-folder': [400, 'There is no folder {folder} on this machine.'],
  'safe-refused': [502, 'That place said no: {why}'],
  'safe-rotten': [502, '{n} files there are damaged and cannot be replaced from here.'],
  'safe-secrets-lost': [
    409,
    'The key to this place was lost with secrets.json. Remove the place and add it again with its pass phrase.',
  ],
  'safe-within': [400, 'A copy within Gemmel’s own folder would be lost together with it. Choose another disk.'],
  'safe-wrong-phrase': [403, 'A backup lies there already, and this is not its pass phrase.'],
  'says-nothing': [400, 'That doesn’t say when any of these pictures were taken.'],
  'clip-not-ready': [503, 'This clip is being made ready. Try again in a moment.'],
  'share-word': [401, 'This share asks for a word.'],
  'share-wrong-word': [401, 'That is not the word.'],
  'share-worn': [410, 'This share has been opened as often as it may be.'],
  'share-name-first': [409, 'Say by which name you go first.'],
  'share-said-closed': [403, 'Nothing more is said here; what was written stays to be read.'],
  'share-no-more': [409, 'No more pictures can be added to this share.'],
  'share-may-not': [403, 'This share does not allow that.'],
  'share-for-nobody': [400, 'A share is for anybody with the link, or for somebody in particular.'],
  'share-closed': [410, 'This share has been closed. Whoever sent you the link can open it again.'],
  'share-empty': [404, 'There is nothing in this share yet.'],
  'share-over': [410, 'This share was open for a while and has ended. Whoever sent you the link can open it again.'],
  'sign-in': [401, 'Please sign in.'],
  'shelf-in-itself': [409, 'A shelf cannot stand on itself.'],
  'same-album': [400, 'These are one album already.'],
  'smart-from-smart': [400, 'A smart album cannot be filled from another smart album.'],
  'something-gone': [409, 'Something this refers to is no longer here. Nothing has been changed.'],
  'source-gone': [409, '{name} is no longer there. Insert it again.'],
  'spelling-taken': [409, '“{name}” is already another spelling of a different tag.'],
  'tag-in-itself': [409, 'A tag cannot be put below itself.'],
  'tag-taken': [409, 'There is already a tag “{name}” there.'],
  'too-large': [413, 'That is more than can be sent at once. Nothing has been changed.'],
  'too-many-tries': [429, 'Too many wrong tries. Wait five minutes, then try again.'],
  'too-old': [409, 'This was done more than {days} days ago and can no longer be undone.'],
  'too-slow': [408, 'The rest of the request did not come.'],
  'two-places': [400, 'A picture can be in one place only.'],
  'undone-already': [409, 'This has already been undone.'],
  unexpected: [500, 'Something went wrong here. Nothing is lost; try again.'],
  'unknown-host': [
    421,
    'Gemmel does not answer to the name “{name}”. If that is its address, write {setting} into settings.json in its data folder and start it again.',
  ],
  unreadable: [400, 'What was sent cannot be read: {where}: {why}.'],
  'which-file': [400, 'An upload must say which file of a batch it is.'],
  'apart-already': [409, 'This scan has been taken apart already. To do it again, show it as taken first.'],
  'wrong-word': [403, 'That is neither the name of the library nor your password. Nothing has been removed.'],
  'code-needed': [401, 'This account asks for a one-time code.'],
  'wrong-code-second': [401, 'That code is not right, or has been used. Wait for the next one.'],
  'passkey-not-known': [401, 'That passkey doesn’t open this door. Sign in with your password.'],
  'passkeys-enough': [409, 'Twenty passkeys are the most. Remove one you no longer use first.'],
  'second-already': [409, 'This account has a second step already.'],
  'wrong-code': [401, 'That is not the set-up code Gemmel printed when it was started.'],
  'wrong-password': [401, 'That address and password do not match.'],
  'years-outside': [400, 'That would lead outside the years 1800 to 2200.'],
  'zip-empty': [400, 'There are no pictures in it.'],
  'zip-gone': [404, 'This ZIP is no longer here. Ask for it again.'],
} as const satisfies Record<string, readonly [status: number, title: string]>;
export type ProblemCode = keyof typeof PROBLEMS;

/** What became of a file, where there is a reason, and why work failed. */
export const REASONS = {
  'already-here': 'already here',
  'already-here-mended': 'already here; what was stored had been damaged or lost, and this copy has repaired it',
  'archive-bomb': 'claims to hold far more than it can, so it was not opened',
  'archive-damaged': 'is a damaged archive',
  'archive-file-damaged': 'is damaged inside its archive',
  'archive-inside': 'is an archive inside an archive; unpack it first',
  'archive-leads-out': 'has a name that leads out of its archive',
  'archive-locked': 'is locked with a password',
  'archive-opened': 'is an archive; its files came in one by one',
  'archive-too-many': 'holds more files than any household has',
  binned: 'was binned on {day}; it is still in the bin',
  'binned-gone': 'was binned on {day}; the bin has been emptied since',
  closed: 'is of a kind Gemmel cannot open yet',
  colours: 'has colours that cannot be read',
  'cut-off': 'is cut off or damaged',
  damaged: 'is damaged and cannot be opened',
  empty: 'is empty',
  'files-stuck': '{n} files could not be moved, among them {path}: {why}',
  'look-alone': 'is a look at an original that is not here',
  'gone-or-locked': 'could not be read: it has gone or is locked',
  'in-use': 'the files of this library are in use; it is tried again',
  'list-read': 'says which albums the pictures belong to',
  'main-left-out': 'belongs to {name}, which was not taken in',
  'never-arrived': 'never arrived',
  'no-moving-picture': 'holds no moving picture that can be shown',
  'not-a-picture': 'is not a picture or clip',
  'not-as-stored': 'not as they were stored: {paths}',
  'not-by-its-ending': 'is not a picture, although its name ends in .{ending}',
  'text-bomb': 'holds a text that unpacks without end, so it was not opened',
  'too-large': 'claims to be far larger than can be opened safely',
  'too-many-pixels': 'claims to be {width} x {height} pixels, more than can be opened safely',
  unexpected: 'could not be taken in: {why}',
  unreadable: 'could not be read on this device',
} as const satisfies Record<string, string>;
export type ReasonCode = keyof typeof REASONS;

/** Every kind of work that is done behind people's backs, and what it does. */
export const WORK = {
  alike: 'Finding runs and doubles',
  backup: 'Making a second copy',
  clocks: 'Comparing clocks',
  derive: 'Making small pictures again',
  empty: 'Emptying the bin',
  events: 'Finding events',
  faces: 'Grouping faces',
  follow: 'Numbering files and making albums',
  intake: 'Taking in files',
  list: 'Looking at a card',
  moving: 'Making short previews of clips',
  observe: 'Noticing what can be measured',
  reading: 'Reading words in pictures',
  readBack: 'Reading originals back',
  refile: 'Moving pictures to their folders',
  rehearse: 'Restoring on trial',
  safePart: 'Reading a place of safekeeping',
  seek: 'Looking for faces',
  sidecars: 'Writing what was said beside the pictures',
  things: 'Looking for everyday things',
  transcode: 'Converting clips so that browsers play them',
  verify: 'Checking that everything stored is whole',
  views: 'Making what touch-ups show',
  prints: 'Looking at scans',
  manifests: 'Writing albums into the open',
} as const satisfies Record<string, string>;
export type WorkKind = keyof typeof WORK;

const fill = (text: string, params: Readonly<Record<string, string | number>>): string =>
  text.replace(/\{(\w+)\}/g, (whole, name: string) => String(params[name] ?? whole));

/** What a problem says in English. */
export const problemTitle = ({ code, params }: Saying): string =>
  fill((PROBLEMS as Record<string, readonly [number, string]>)[code]?.[1] ?? code, params);

/** What a reason says in English, as it reads after the name of a file. */
export const reasonTitle = ({ code, params }: Saying): string =>
  fill((REASONS as Record<string, string>)[code] ?? code, params);

/** The parameters a problem needs. */
export type ProblemParams<C extends ProblemCode> = Params<(typeof PROBLEMS)[C][1]>;
/** The parameters a reason needs. */
export type ReasonParams<C extends ReasonCode> = Params<(typeof REASONS)[C]>;

/** A reason with what it speaks of. */
export const reason = <C extends ReasonCode>(
  code: C,
  ...[params]: keyof ReasonParams<C> extends never ? [] : [ReasonParams<C>]
): Saying => ({ code, params: params ?? {} });
