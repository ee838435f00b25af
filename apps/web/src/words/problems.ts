import type { Gone, ProblemCode, ReasonCode, Saying, WorkKind } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { sayDay } from '@/ui/say';

/*
 * What the server says in codes, in words. Each message goes by its code, so that the server finds the same words in the catalogue
 * where it writes for people itself.
 */

/** Why something was refused. What it speaks of stands between braces. */
export const PROBLEM: Record<Exclude<ProblemCode, 'gone'>, MessageDescriptor> = {
  'album-by-hand': msg({ id: 'problem.album-by-hand', message: 'This album is filled by hand, not by a question.' }),
  'album-fills-itself': msg({
    id: 'problem.album-fills-itself',
    message: 'A smart album fills itself. Change its question instead.',
  }),
  'album-made': msg({ id: 'problem.album-made', message: 'The album of this batch has already been made.' }),
  'already-in-picture': msg({
    id: 'problem.already-in-picture',
    message: 'This person is already named in one of these pictures, and nobody is in a picture twice.',
  }),
  'bad-address': msg({
    id: 'problem.bad-address',
    message: 'Write the address with https:// before it and nothing after the name, such as https://pictures.example.',
  }),
  'bad-marker': msg({ id: 'problem.bad-marker', message: 'This page marker can’t be read.' }),
  'book-changed': msg({
    id: 'problem.book-changed',
    message: 'Somebody else has changed this book meanwhile. Here it is as it is now; say it again.',
  }),
  busy: msg({ id: 'problem.busy', message: 'Somebody else is changing the same thing. Try again in a moment.' }),
  'card-gone': msg({ id: 'problem.card-gone', message: 'The card is no longer there.' }),
  'circle-taken': msg({ id: 'problem.circle-taken', message: 'There is already a circle by this name.' }),
  'clock-answered': msg({ id: 'problem.clock-answered', message: 'This clock has already been answered.' }),
  'cover-of-another': msg({ id: 'problem.cover-of-another', message: 'The cover must be a picture of the event.' }),
  'database-away': msg({
    id: 'problem.database-away',
    message: 'The database is being restarted. Nothing is lost; try again in a moment.',
  }),
  'day-over': msg({ id: 'problem.day-over', message: 'That day is over. Choose one that is still to come.' }),
  'device-taken': msg({ id: 'problem.device-taken', message: 'There is already a device called “{name}”.' }),
  'does-not-fit': msg({ id: 'problem.does-not-fit', message: 'That doesn’t fit. Nothing has been changed.' }),
  'ends-before-begins': msg({
    id: 'problem.ends-before-begins',
    message: 'The last day can’t be before the first.',
  }),
  'event-itself': msg({ id: 'problem.event-itself', message: 'An event can’t be joined to itself.' }),
  'face-marked': msg({
    id: 'problem.face-marked',
    message: 'This face is already marked. Tap its oval to say who it is.',
  }),
  'foreign-page': msg({ id: 'problem.foreign-page', message: 'This request came from another page.' }),
  'full-disk': msg({
    id: 'problem.full-disk',
    message: 'The disk is full. Everything stored is safe; the rest continues when there is space.',
  }),
  'house-stays': msg({ id: 'problem.house-stays', message: 'This library looks after the whole house and stays.' }),
  'same-library': msg({ id: 'problem.same-library', message: 'These pictures are in that library already.' }),
  'wrong-name': msg({
    id: 'problem.wrong-name',
    message: 'That is not the name of the library. Nothing has been changed.',
  }),
  'whole-path': msg({
    id: 'problem.whole-path',
    message: 'Say where the folder is from the root on, such as /media/disk/pictures.',
  }),
  'over-limit': msg({
    id: 'problem.over-limit',
    message: 'That is more than you may bring into this library. Ask its keeper.',
  }),
  'library-away': msg({
    id: 'problem.library-away',
    message: 'A library lies on a disk that isn’t there. Plug it in, then try again.',
  }),
  'here-already': msg({ id: 'problem.here-already', message: 'This is already here. Nothing has been changed.' }),
  'address-taken': msg({
    id: 'problem.address-taken',
    message: 'There’s already an account with that address. Sign in with it, then open the link again.',
  }),
  'belongs-elsewhere': msg({
    id: 'problem.belongs-elsewhere',
    message:
      'They belong to another library too, so this one can’t set their password. Whoever runs Gemmel can make a link for them.',
  }),
  'invite-over': msg({
    id: 'problem.invite-over',
    message: 'This invitation is no longer good. Ask whoever sent it for a new one.',
  }),
  'looking-only': msg({
    id: 'problem.looking-only',
    message: 'You see what somebody else sees. Nothing can be changed from here.',
  }),
  'sees-everything': msg({
    id: 'problem.sees-everything',
    message: 'Keepers and helpers see everything. You only choose what a relative sees.',
  }),
  'last-keeper': msg({
    id: 'problem.last-keeper',
    message: 'A library needs a keeper. Make somebody else keeper first.',
  }),
  'member-already': msg({ id: 'problem.member-already', message: 'They already belong to this library.' }),
  'not-a-member': msg({ id: 'problem.not-a-member', message: 'You don’t belong to this library.' }),
  'password-not-yours': msg({
    id: 'problem.password-not-yours',
    message: 'That isn’t your password. Nothing has been changed.',
  }),
  'reset-over': msg({ id: 'problem.reset-over', message: 'This link is no longer good. Ask for a new one.' }),
  'keeper-exists': msg({
    id: 'problem.keeper-exists',
    message: 'This library already has a keeper. Sign in instead.',
  }),
  'link-unknown': msg({
    id: 'problem.link-unknown',
    message: 'This link leads nowhere. Part of it may be missing; ask for it again.',
  }),
  'mark-taken': msg({ id: 'problem.mark-taken', message: 'There is already a mark that means this.' }),
  'marks-full': msg({
    id: 'problem.marks-full',
    message: 'A library has at most {n} marks. Change or remove one first.',
  }),
  'name-taken': msg({
    id: 'problem.name-taken',
    message: 'You already know somebody by this name. If it’s the same person, join the two.',
  }),
  'no-longer-waited-for': msg({
    id: 'problem.no-longer-waited-for',
    message: 'This file is no longer expected.',
  }),
  'no-pictures-then': msg({ id: 'problem.no-pictures-then', message: 'No pictures were taken on these days.' }),
  'no-room': msg({
    id: 'problem.no-room',
    message: 'There isn’t enough space on the disk for all of this. Untick some, or make space.',
  }),
  'no-mail': msg({
    id: 'problem.no-mail',
    message: 'No e-mail can be sent from here. Whoever runs the machine sets it up.',
  }),
  'mail-failed': msg({
    id: 'problem.mail-failed',
    message: 'The mail server didn’t take the e-mail. Try again in a while.',
  }),
  'mail-too-large': msg({
    id: 'problem.mail-too-large',
    message: 'Each of these is too large for an e-mail. Share them by link instead.',
  }),
  'no-room-now': msg({
    id: 'problem.no-room-now',
    message: 'There is no space to prepare this right now. Try again later.',
  }),
  'not-a-date': msg({
    id: 'problem.not-a-date',
    message: 'That isn’t a date. Try “16 May 2026 14:07”, “summer 1988” or “about 1960”.',
  }),
  'not-allowed': msg({ id: 'problem.not-allowed', message: 'Your part in this library doesn’t allow that.' }),
  'not-as-announced': msg({
    id: 'problem.not-as-announced',
    message: 'The file has changed since you chose it. Choose it again.',
  }),
  'not-cleanable': msg({
    id: 'problem.not-cleanable',
    message:
      'This file can’t be shared without what is written inside it, so it isn’t shared. Ask whoever sent you the link.',
  }),
  'not-coming': msg({ id: 'problem.not-coming', message: 'This batch is no longer coming in.' }),
  'not-in-event': msg({ id: 'problem.not-in-event', message: 'This picture isn’t in the event.' }),
  'not-json': msg({ id: 'problem.not-json', message: 'What was sent isn’t JSON.' }),
  'not-stopped': msg({ id: 'problem.not-stopped', message: 'This batch wasn’t paused.' }),
  'not-whole': msg({
    id: 'problem.not-whole',
    message: 'The file didn’t arrive whole. Nothing is lost; send it again.',
  }),
  'not-your-comment': msg({ id: 'problem.not-your-comment', message: 'Only whoever wrote a comment can change it.' }),
  'nothing-at': msg({ id: 'problem.nothing-at', message: 'There is nothing at {path}.' }),
  'nothing-before': msg({
    id: 'problem.nothing-before',
    message: 'The event begins with this picture, so there is nothing to split off before it.',
  }),
  'nothing-ticked': msg({ id: 'problem.nothing-ticked', message: 'Nothing ticked.' }),
  'code-unknown': msg({
    id: 'problem.code-unknown',
    message: 'No screen shows this code. Codes change after ten minutes; look at the screen again.',
  }),
  'wall-ended': msg({ id: 'problem.wall-ended', message: 'This screen no longer plays anything.' }),
  'walls-full': msg({
    id: 'problem.walls-full',
    message: 'Too many screens are waiting. Try again in ten minutes.',
  }),
  'no-music': msg({
    id: 'problem.no-music',
    message: '“{name}” can’t be played as music. Bring in MP3, M4A, OGG or FLAC.',
  }),
  'nothing-to-number': msg({ id: 'problem.nothing-to-number', message: 'There are no pictures to number.' }),
  'nothing-to-share': msg({
    id: 'problem.nothing-to-share',
    message: 'There’s nothing to share yet. Put pictures on the pile first.',
  }),
  'page-stale': msg({ id: 'problem.page-stale', message: 'This page is out of date. Reload it.' }),
  'phones-only': msg({ id: 'problem.phones-only', message: 'Only phones have a password.' }),
  'pins-full': msg({
    id: 'problem.pins-full',
    message: 'You can keep at most {n} questions at hand. Remove one first.',
  }),
  'portrait-of-another': msg({
    id: 'problem.portrait-of-another',
    message: 'This portrait doesn’t show this person.',
  }),
  'same-person': msg({ id: 'problem.same-person', message: 'These are already one person.' }),
  'same-picture': msg({
    id: 'problem.same-picture',
    message: 'Two of these faces are in one picture, so they can’t both be the same person. Tap one away first.',
  }),
  'not-the-house': msg({
    id: 'problem.not-the-house',
    message: 'The safekeeping of this house is looked after in its first library.',
  }),
  'safe-address': msg({ id: 'problem.safe-address', message: '“{address}” isn’t an address for this kind of place.' }),
  'safe-another': msg({
    id: 'problem.safe-another',
    message: 'There’s another backup there than the one Gemmel knows. Nothing has been written.',
  }),
  'safe-away': msg({
    id: 'problem.safe-away',
    message: 'Nobody answers there. Nothing is lost, and Gemmel keeps trying.',
  }),
  'safe-empty': msg({
    id: 'problem.safe-empty',
    message: 'There’s nothing at this place yet. Bring it up to date first.',
  }),
  'safe-full': msg({ id: 'problem.safe-full', message: 'There’s no space left at that place.' }),
  'safe-no-folder': msg({ id: 'problem.safe-no-folder', message: 'There’s no folder {folder} on this machine.' }),
  'safe-refused': msg({ id: 'problem.safe-refused', message: 'That place said no: {why}' }),
  'safe-rotten': msg({
    id: 'problem.safe-rotten',
    message: '{n} files there are damaged and can’t be replaced from here.',
  }),
  'safe-secrets-lost': msg({
    id: 'problem.safe-secrets-lost',
    message:
      'The key to this place was lost with secrets.json. Remove the place, then add it again with its pass phrase.',
  }),
  'safe-within': msg({
    id: 'problem.safe-within',
    message: 'A copy inside Gemmel’s own folder would be lost together with it. Choose another disk.',
  }),
  'safe-wrong-phrase': msg({
    id: 'problem.safe-wrong-phrase',
    message: 'There’s already a backup there, and this isn’t its pass phrase.',
  }),
  'says-nothing': msg({
    id: 'problem.says-nothing',
    message: 'That doesn’t say when any of these pictures were taken.',
  }),
  'clip-not-ready': msg({
    id: 'problem.clip-not-ready',
    message: 'This clip is being made ready. Try again in a moment.',
  }),
  'share-word': msg({ id: 'problem.share-word', message: 'This share asks for a word.' }),
  'share-wrong-word': msg({ id: 'problem.share-wrong-word', message: 'That’s not the word. Try again.' }),
  'share-worn': msg({
    id: 'problem.share-worn',
    message: 'This share has been opened as often as it may be. Ask whoever sent you the link.',
  }),
  'share-name-first': msg({ id: 'problem.share-name-first', message: 'First say what you’re called.' }),
  'share-said-closed': msg({
    id: 'problem.share-said-closed',
    message: 'Nothing more is said here; what was written stays to be read.',
  }),
  'share-no-more': msg({
    id: 'problem.share-no-more',
    message: 'That’s more than you can add here. Choose fewer pictures.',
  }),
  'share-may-not': msg({ id: 'problem.share-may-not', message: 'This share doesn’t allow that.' }),
  'share-for-nobody': msg({
    id: 'problem.share-for-nobody',
    message: 'Say who the share is for: anybody with the link, or somebody by name.',
  }),
  'share-closed': msg({
    id: 'problem.share-closed',
    message: 'This share has been closed. Whoever sent you the link can open it again.',
  }),
  'share-empty': msg({ id: 'problem.share-empty', message: 'There’s nothing in this share yet.' }),
  'share-over': msg({
    id: 'problem.share-over',
    message: 'This share has ended. Whoever sent you the link can open it again.',
  }),
  'sign-in': msg({ id: 'problem.sign-in', message: 'Please sign in.' }),
  'smart-from-smart': msg({
    id: 'problem.smart-from-smart',
    message: 'A smart album can’t be filled from another smart album.',
  }),
  'something-gone': msg({
    id: 'problem.something-gone',
    message: 'Something in this is no longer here. Nothing has been changed.',
  }),
  'source-gone': msg({ id: 'problem.source-gone', message: '{name} is no longer connected. Connect it again.' }),
  'spelling-taken': msg({
    id: 'problem.spelling-taken',
    message: '“{name}” is already another spelling of a different tag.',
  }),
  'same-album': msg({ id: 'problem.same-album', message: 'These are one album already.' }),
  'shelf-in-itself': msg({ id: 'problem.shelf-in-itself', message: 'A shelf can’t stand on itself.' }),
  'tag-in-itself': msg({ id: 'problem.tag-in-itself', message: 'A tag can’t be put below itself.' }),
  'tag-taken': msg({
    id: 'problem.tag-taken',
    message: 'There is already a tag “{name}” there. Join the two instead.',
  }),
  'too-large': msg({
    id: 'problem.too-large',
    message: 'That’s more than can be sent at once. Nothing has been changed.',
  }),
  'too-many-tries': msg({
    id: 'problem.too-many-tries',
    message: 'Too many wrong tries. Wait five minutes, then try again.',
  }),
  'too-old': msg({
    id: 'problem.too-old',
    message: 'This was done more than {days} days ago and can no longer be undone.',
  }),
  'too-slow': msg({ id: 'problem.too-slow', message: 'The rest of the request didn’t arrive.' }),
  'two-places': msg({ id: 'problem.two-places', message: 'A picture can be in one place only.' }),
  'undone-already': msg({ id: 'problem.undone-already', message: 'This has already been undone.' }),
  'frame-ended': msg({ id: 'problem.frame-ended', message: 'This frame is no longer connected.' }),
  'no-shop': msg({ id: 'problem.no-shop', message: 'No print shop is set up here.' }),
  'nothing-to-order': msg({
    id: 'problem.nothing-to-order',
    message: 'Make the prints first; then they can be ordered.',
  }),
  'shop-silent': msg({
    id: 'problem.shop-silent',
    message: 'The print shop did not answer. Nothing was ordered; try again later.',
  }),
  unexpected: msg({
    id: 'problem.unexpected',
    message: 'Something went wrong here. Nothing is lost; try again.',
  }),
  'unknown-host': msg({
    id: 'problem.unknown-host',
    message:
      'Gemmel doesn’t answer to the name “{name}”. If that is its address, write {setting} into settings.json in its data folder and start it again.',
  }),
  unreadable: msg({ id: 'problem.unreadable', message: 'What was sent can’t be read: {where}: {why}.' }),
  'which-file': msg({ id: 'problem.which-file', message: 'An upload must say which file of a batch it is.' }),
  'code-needed': msg({ id: 'problem.code-needed', message: 'A code from your phone is asked for, too.' }),
  'wrong-code-second': msg({
    id: 'problem.wrong-code-second',
    message: 'That code isn’t right, or has been used. Wait for the next one.',
  }),
  'passkey-not-known': msg({
    id: 'problem.passkey-not-known',
    message: 'That passkey doesn’t open this door. Sign in with your password.',
  }),
  'passkeys-enough': msg({
    id: 'problem.passkeys-enough',
    message: 'Twenty passkeys are the most. Remove one you no longer use first.',
  }),
  'push-enough': msg({
    id: 'problem.push-enough',
    message: 'Ten of your devices are told already. Turn it off on one of them first.',
  }),
  'push-not-there': msg({
    id: 'problem.push-not-there',
    message: 'This browser’s push service can’t be reached from here.',
  }),
  'second-already': msg({
    id: 'problem.second-already',
    message: 'One-time codes are already set up for this account.',
  }),
  'wrong-code': msg({
    id: 'problem.wrong-code',
    message: 'That isn’t the set-up code Gemmel printed when it was started.',
  }),
  'apart-already': msg({
    id: 'problem.apart-already',
    message: 'This scan has been taken apart already. To do it again, show it as taken first.',
  }),
  'wrong-word': msg({
    id: 'problem.wrong-word',
    message: 'That is neither the name of the library nor your password. Nothing has been removed.',
  }),
  'wrong-password': msg({ id: 'problem.wrong-password', message: 'That address and password don’t match.' }),
  'years-outside': msg({ id: 'problem.years-outside', message: 'That’s outside the years 1800 to 2200.' }),
  'zip-empty': msg({ id: 'problem.zip-empty', message: 'There are no pictures in it.' }),
  'zip-gone': msg({ id: 'problem.zip-gone', message: 'This ZIP is no longer here. Ask for it again.' }),
};

/** What is no longer here. */
export const GONE: Record<Gone, MessageDescriptor> = {
  album: msg({ id: 'gone.album', message: 'This album is no longer here.' }),
  asked: msg({ id: 'gone.asked', message: 'Something this question asks for is no longer here.' }),
  batch: msg({ id: 'gone.batch', message: 'This batch is no longer here.' }),
  card: msg({ id: 'gone.card', message: 'This card is no longer here.' }),
  chapter: msg({ id: 'gone.chapter', message: 'This chapter is no longer here.' }),
  circle: msg({ id: 'gone.circle', message: 'This circle is no longer here.' }),
  clip: msg({ id: 'gone.clip', message: 'This clip is no longer here.' }),
  clock: msg({ id: 'gone.clock', message: 'This clock is no longer asked about.' }),
  comment: msg({ id: 'gone.comment', message: 'This comment is no longer here.' }),
  device: msg({ id: 'gone.device', message: 'This device is no longer here.' }),
  difference: msg({ id: 'gone.difference', message: 'This has already been decided.' }),
  event: msg({ id: 'gone.event', message: 'This event is no longer here.' }),
  face: msg({ id: 'gone.face', message: 'One of these faces is no longer here.' }),
  file: msg({ id: 'gone.file', message: 'This file is no longer here.' }),
  frame: msg({ id: 'gone.frame', message: 'This frame is no longer connected.' }),
  library: msg({ id: 'gone.library', message: 'This library is no longer here.' }),
  invitation: msg({ id: 'gone.invitation', message: 'This invitation is no longer open.' }),
  map: msg({ id: 'gone.map', message: 'This map is no longer here.' }),
  mark: msg({ id: 'gone.mark', message: 'This mark is no longer here.' }),
  member: msg({ id: 'gone.member', message: 'This member is no longer here.' }),
  page: msg({ id: 'gone.page', message: 'This is no longer here.' }),
  passkey: msg({ id: 'gone.passkey', message: 'This passkey is no longer here.' }),
  people: msg({ id: 'gone.people', message: 'One of these people is no longer here.' }),
  person: msg({ id: 'gone.person', message: 'This person is no longer here.' }),
  piece: msg({ id: 'gone.piece', message: 'This piece is no longer here.' }),
  picture: msg({ id: 'gone.picture', message: 'This picture is no longer here.' }),
  pictures: msg({ id: 'gone.pictures', message: 'One of these pictures is no longer here.' }),
  pin: msg({ id: 'gone.pin', message: 'This pin is no longer here.' }),
  place: msg({ id: 'gone.place', message: 'This place is no longer here.' }),
  'safe-place': msg({ id: 'gone.safe-place', message: 'This place is no longer looked after.' }),
  share: msg({ id: 'gone.share', message: 'This share is no longer here.' }),
  show: msg({ id: 'gone.show', message: 'This show is no longer here.' }),
  shelf: msg({ id: 'gone.shelf', message: 'This shelf is no longer here.' }),
  tag: msg({ id: 'gone.tag', message: 'This tag is no longer here.' }),
  work: msg({ id: 'gone.work', message: 'This job is no longer here.' }),
};

/** What became of a file, where there is a reason; and why work failed. */
export const REASON: Record<ReasonCode, MessageDescriptor> = {
  'already-here': msg({ id: 'reason.already-here', message: 'Already here' }),
  'already-here-mended': msg({
    id: 'reason.already-here-mended',
    message: 'Already here; what was stored had been damaged or lost, and this copy has repaired it',
  }),
  'archive-bomb': msg({
    id: 'reason.archive-bomb',
    message: 'Claims to hold far more than it can, so it wasn’t opened',
  }),
  'archive-damaged': msg({ id: 'reason.archive-damaged', message: 'A damaged archive' }),
  'archive-file-damaged': msg({ id: 'reason.archive-file-damaged', message: 'Damaged inside its archive' }),
  'archive-inside': msg({
    id: 'reason.archive-inside',
    message: 'An archive inside an archive; unpack it first',
  }),
  'archive-leads-out': msg({
    id: 'reason.archive-leads-out',
    message: 'Its name leads out of the archive, so it wasn’t unpacked',
  }),
  'archive-locked': msg({ id: 'reason.archive-locked', message: 'Locked with a password' }),
  'archive-opened': msg({ id: 'reason.archive-opened', message: 'An archive; its files came in one by one' }),
  'archive-too-many': msg({
    id: 'reason.archive-too-many',
    message: 'Holds more files than any household has, so it wasn’t opened',
  }),
  binned: msg({ id: 'reason.binned', message: 'Binned on {day}, and still in the bin' }),
  'binned-gone': msg({ id: 'reason.binned-gone', message: 'Binned on {day}; the bin has been emptied since' }),
  'look-alone': msg({ id: 'reason.look-alone', message: 'A look at an original that isn’t here' }),
  closed: msg({ id: 'reason.closed', message: 'A kind of file Gemmel can’t open yet' }),
  colours: msg({ id: 'reason.colours', message: 'Its colours can’t be read' }),
  'cut-off': msg({ id: 'reason.cut-off', message: 'Cut off or damaged' }),
  damaged: msg({ id: 'reason.damaged', message: 'Damaged; it can’t be opened' }),
  empty: msg({ id: 'reason.empty', message: 'An empty file' }),
  'files-stuck': msg({
    id: 'reason.files-stuck',
    message:
      '{n, plural, one {# file couldn’t be moved: {path} ({why})} other {# files couldn’t be moved, among them {path} ({why})}}',
  }),
  'gone-or-locked': msg({ id: 'reason.gone-or-locked', message: 'Couldn’t be read: it has gone or is locked' }),
  'in-use': msg({
    id: 'reason.in-use',
    message: 'The files of this library are in use; it will be tried again',
  }),
  'list-read': msg({ id: 'reason.list-read', message: 'Says which albums the pictures belong to' }),
  'main-left-out': msg({ id: 'reason.main-left-out', message: 'Belongs to {name}, which wasn’t stored' }),
  'no-room-there': msg({
    id: 'reason.no-room-there',
    message: 'There isn’t enough space in that folder. Make space and start again: it continues where it stopped',
  }),
  'no-library-there': msg({
    id: 'reason.no-library-there',
    message: 'That folder holds no exported library, or not all of one',
  }),
  'disk-away': msg({ id: 'reason.disk-away', message: 'The disk this library lies on isn’t there' }),
  'no-folder-there': msg({ id: 'reason.no-folder-there', message: 'There is no such folder' }),
  'same-place': msg({
    id: 'reason.same-place',
    message: 'That folder is inside Gemmel’s own data folder, so nothing would be gained',
  }),
  'not-empty-there': msg({ id: 'reason.not-empty-there', message: 'There is something in that folder already' }),
  'newer-library': msg({ id: 'reason.newer-library', message: 'That library was exported by a newer Gemmel' }),
  'never-arrived': msg({ id: 'reason.never-arrived', message: 'Never arrived' }),
  'no-moving-picture': msg({ id: 'reason.no-moving-picture', message: 'Has no moving picture that can be shown' }),
  'not-a-picture': msg({ id: 'reason.not-a-picture', message: 'Not a picture or clip' }),
  'not-as-stored': msg({ id: 'reason.not-as-stored', message: 'Not as they were stored: {paths}' }),
  'not-by-its-ending': msg({
    id: 'reason.not-by-its-ending',
    message: 'Not a picture, although its name ends in .{ending}',
  }),
  'text-bomb': msg({
    id: 'reason.text-bomb',
    message: 'Holds a text that unpacks without end, so it wasn’t opened',
  }),
  'too-large': msg({ id: 'reason.too-large', message: 'Claims to be far larger than can be opened safely' }),
  'too-many-pixels': msg({
    id: 'reason.too-many-pixels',
    message: 'Claims to be {width} × {height} pixels, more than can be opened safely',
  }),
  'too-talkative': msg({
    id: 'reason.too-talkative',
    message: 'Says more about itself than could be read in time, so it wasn’t opened',
  }),
  unexpected: msg({ id: 'reason.unexpected', message: 'Couldn’t be done: {why}' }),
  unreadable: msg({ id: 'reason.unreadable', message: 'Couldn’t be read on this device' }),
};

/** What work behind people's backs does. */
export const WORKING: Record<WorkKind, MessageDescriptor> = {
  alike: msg({ id: 'work.alike', message: 'Finding runs and doubles' }),
  clocks: msg({ id: 'work.clocks', message: 'Comparing clocks' }),
  backup: msg({ id: 'work.backup', message: 'Making a second copy' }),
  book: msg({ id: 'work.book', message: 'Writing everything said into the library’s book' }),
  erase: msg({ id: 'work.erase', message: 'Removing a library for good' }),
  exportLibrary: msg({ id: 'work.exportLibrary', message: 'Copying the library into a folder' }),
  moveLibrary: msg({ id: 'work.moveLibrary', message: 'Moving the library to another disk' }),
  openLibrary: msg({ id: 'work.openLibrary', message: 'Opening a library' }),
  openState: msg({ id: 'work.openState', message: 'Opening a library as it was on another day' }),
  repair: msg({ id: 'work.repair', message: 'Checking files against the database' }),
  settle: msg({ id: 'work.settle', message: 'Settling a rebuilt library' }),
  split: msg({ id: 'work.split', message: 'Giving pictures to another library' }),
  tidy: msg({ id: 'work.tidy', message: 'Tidying up' }),
  derive: msg({ id: 'work.derive', message: 'Making small pictures again' }),
  readBack: msg({ id: 'work.readBack', message: 'Reading originals back' }),
  rehearse: msg({ id: 'work.rehearse', message: 'Restoring on trial' }),
  safePart: msg({ id: 'work.safePart', message: 'Reading a place of safekeeping' }),
  empty: msg({ id: 'work.empty', message: 'Emptying the bin' }),
  events: msg({ id: 'work.events', message: 'Finding events' }),
  faces: msg({ id: 'work.faces', message: 'Grouping faces' }),
  follow: msg({ id: 'work.follow', message: 'Numbering files and making albums' }),
  intake: msg({ id: 'work.intake', message: 'Bringing in files' }),
  list: msg({ id: 'work.list', message: 'Looking at a card' }),
  observe: msg({ id: 'work.observe', message: 'Noticing blurred, dark and other pictures' }),
  reading: msg({ id: 'work.reading', message: 'Reading words in pictures' }),
  things: msg({ id: 'work.things', message: 'Looking for everyday things' }),
  moving: msg({ id: 'work.moving', message: 'Making short previews of clips' }),
  refile: msg({ id: 'work.refile', message: 'Moving pictures to their folders' }),
  seek: msg({ id: 'work.seek', message: 'Looking for faces' }),
  sidecars: msg({ id: 'work.sidecars', message: 'Writing what was said beside the pictures' }),
  transcode: msg({ id: 'work.transcode', message: 'Converting clips for browsers' }),
  views: msg({ id: 'work.views', message: 'Making what touch-ups show' }),
  prints: msg({ id: 'work.prints', message: 'Looking at scans' }),
  piece: msg({ id: 'work.piece', message: 'Making a book, a film or another piece' }),
  manifests: msg({ id: 'work.manifests', message: 'Writing albums into the open' }),
  verify: msg({ id: 'work.verify', message: 'Checking that everything stored is whole' }),
};

const said = (descriptor: MessageDescriptor | undefined, params: Saying['params']): string | null =>
  descriptor ? i18n._(descriptor.id, params, descriptor) : null;

/** A problem in words; null when this page does not know its code. */
export const sayProblem = ({ code, params }: Saying): string | null =>
  code === 'gone' ? said(GONE[params['thing'] as Gone], {}) : said(PROBLEM[code as keyof typeof PROBLEM], params);

/** A reason in words. A day it speaks of is written out. */
export const sayReason = ({ code, params }: Saying): string => {
  const day = params['day'];
  const spoken = typeof day === 'string' ? { ...params, day: sayDay(day) } : params;
  return said(REASON[code as ReasonCode], spoken) ?? t`Not known`;
};

/** What kind of work it is, in words. */
export const sayWork = (kind: WorkKind): string => i18n._(WORKING[kind]);
