import { useLocalSearchParams } from 'expo-router';
import { Guest } from '@/features/guest/Guest';

export default function Route() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <Guest token={token} />;
}
