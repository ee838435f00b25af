export * from './api';
export * from './endpoint';
export * from './gatherShapes';
export {
  Circle,
  CircleShape,
  FaceAnswer,
  FacesBefore,
  Introduction,
  JoinPreview,
  Person,
  PersonBefore,
  PersonChange,
  PersonDetail,
  Sureness,
} from './peopleApi';
export { Folder, OwnPlaceShape, PlacesBefore, Positions, TownHit, TrackAnswer } from './placeApi';
export * from './shapes';
export { ClockOffer, DatePreview, EventDetail, EventsBefore, RedatingAsked, Sitting } from './timeApi';
