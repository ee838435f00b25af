import { Sharing } from '@/features/share/Sharing';
import { Frames } from '@/features/show/Frames';
import { Walls } from '@/features/show/Walls';

export default function Route() {
  return (
    <Sharing>
      <Walls />
      <Frames />
    </Sharing>
  );
}
