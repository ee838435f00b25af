export { chances, describeLong, LONG, testLong, times } from '../../../packages/core/src/long.testing';
