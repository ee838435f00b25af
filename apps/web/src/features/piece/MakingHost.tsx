import { endMaking, useMaking } from '@/state/making';
import { lazily } from '@/ui/lazily';

const NewPiece = lazily(async () => (await import('./PieceSheet')).NewPiece);

/** Where it is asked what is to be made, over whatever page it was asked for on. */
export function MakingHost() {
  const { of } = useMaking();
  return of ? <NewPiece {...of} onClose={endMaking} /> : null;
}
