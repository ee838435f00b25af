import { useLocalSearchParams } from 'expo-router';
import { WallPage } from '@/features/show/WallPage';

export default function Route() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <WallPage key={token} token={token} />;
}
