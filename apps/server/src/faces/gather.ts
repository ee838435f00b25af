import { gatherFaces, type FaceWorld, type Gathered } from '@gemmel/core';

/** {@link gatherFaces} as a task for a worker thread. */
export const gather = (world: FaceWorld): Gathered => gatherFaces(world);
