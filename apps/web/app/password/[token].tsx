import { useLocalSearchParams } from 'expo-router';
import { NewPassword } from '@/features/account/NewPassword';

export default function Route() {
  const { token } = useLocalSearchParams<{ token: string }>();
  return <NewPassword token={token} />;
}
