// What a row of each table holds; by what it is about.
export type * from './rows/albums';
export type * from './rows/gathering';
export type * from './rows/household';
export type * from './rows/keeping';
export type * from './rows/people';
export type * from './rows/pictures';
export type * from './rows/shares';
export type * from './rows/when';
export type * from './rows/work';
