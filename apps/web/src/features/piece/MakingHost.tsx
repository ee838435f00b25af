import { endMaking, useMaking } from '@/state/making';
import { NewPiece } from './PieceSheet';

/** Where it is asked what is to be made, over whatever page it was asked for on. */
export function MakingHost() {
  const { of } = useMaking();
  return of ? <NewPiece {...of} onClose={endMaking} /> : null;
}
