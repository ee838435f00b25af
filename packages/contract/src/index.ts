export * from './api';
export * from './endpoint';
export * from './shapes';
