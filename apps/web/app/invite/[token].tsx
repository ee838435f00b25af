import { useLocalSearchParams } from 'expo-router';
import { Invitation } from '@/features/account/Invitation';

export default function Route() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <Invitation token={token} />;
}
