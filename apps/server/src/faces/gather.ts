import { gatherFaces, type Gathered, type LibraryFace } from '@gemmel/core';

/** {@link gatherFaces} as a task for a worker thread; refusals as `${face}|${person}`. */
export function gather({ faces, refused }: { faces: LibraryFace[]; refused: string[] }): Gathered {
  return gatherFaces(faces, new Set(refused));
}
