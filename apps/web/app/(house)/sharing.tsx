import { Sharing } from '@/features/share/Sharing';
import { Walls } from '@/features/show/Walls';

export default function Route() {
  return (
    <Sharing>
      <Walls />
    </Sharing>
  );
}
