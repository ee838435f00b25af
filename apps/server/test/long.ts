export { chances, LONG, times } from '../../../packages/core/src/long.testing';
