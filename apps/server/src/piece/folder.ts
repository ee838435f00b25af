import path from 'node:path';
import type { App } from '../context';

/** Where the files of pieces lie: they can always be made again. */
export const piecesFolder = (app: App): string => path.join(app.paths.derived, 'pieces');
/** Where those of one lie. */
export const pieceFolder = (app: App, id: number): string => path.join(piecesFolder(app), String(id));
