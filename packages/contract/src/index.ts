export * from './api';
export * from './endpoint';
export * from './gatherShapes';
export * from './shapes';
export { ClockOffer, EventsBefore } from './timeApi';
