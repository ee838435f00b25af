import { Albums } from '@/features/album/Albums';

export default function Route() {
  return <Albums shelf={null} />;
}
