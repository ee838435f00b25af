export { Act, ActKind, ACTS, ActWords, Did, Undone, UNDO_DAYS } from './actApi';
export { Invite, Invited, Member, Passkey, SignedIn } from './accountApi';
export { BestReason, Chapter, FolderPlan, From } from './albumApi';
export * from './api';
export { BIN_DAYS, Binned } from './binApi';
export * from './endpoint';
export { Facets, LikeBy, Observing, Offered, Pin, Sort, Under } from './findApi';
export * from './gatherShapes';
export { Digest, Notice, PushPlace } from './noticeApi';
export {
  Circle,
  CircleShape,
  FaceAnswer,
  Introduction,
  JoinPreview,
  Person,
  PersonChange,
  PersonDetail,
  Sureness,
} from './peopleApi';
export { Folder, OwnPlaceShape, Positions, TownHit, TrackAnswer } from './placeApi';
export {
  Comment,
  Mark,
  MARK_COLOURS,
  MARK_SHAPES,
  MarkColour,
  MarkShape,
  MOST_MARKS,
  SaidTogether,
  Tag,
  Twin,
  TwinWhy,
} from './sayApi';
export { Double, RunFace, RunListed, RunShot, ShotWhy } from './runsApi';
export * from './sayings';
export * from './shapes';
export { Frame, FrameFeed, FrameSettings } from './frameApi';
export { BookLayout, BookMap, MadeFile, Piece, PieceSettings, Receipt, SheetsLayout, type PieceKind } from './pieceApi';
export { Music, SavedShow, ShowSlide, ShowSource, Wall } from './showApi';
export {
  Addition,
  GuestComment,
  GuestPicture,
  GuestShare,
  LOOK_AND_SAVE,
  TELLS_NOTHING,
  Share,
  ShareGuest,
  ShareMay,
  ShareOf,
  ShareReach,
  ShareTells,
  Visit,
} from './shareApi';
export { AudienceOf, AudienceWhy, Meant, Seen, View } from './sightApi';
export { LOOKS_KEPT } from './touchupApi';
export { OtherSide, PrintCorners, type OneScan } from './scansApi';
export { ClockOffer, DatePreview, EventDetail, RedatingAsked, Sitting } from './timeApi';
export { MOST_IDS, News, STALE, Topic, TOPICS } from './feed';
export * from './libraryApi';
export * from './safeApi';
