export * from './api';
export * from './endpoint';
export * from './gatherShapes';
export { Folder, OwnPlaceShape, PlacesBefore, Positions, TownHit, TrackAnswer } from './placeApi';
export * from './shapes';
export { ClockOffer, DatePreview, EventDetail, EventsBefore, RedatingAsked, Sitting } from './timeApi';
