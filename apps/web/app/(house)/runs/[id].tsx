import { useLocalSearchParams } from 'expo-router';
import { RunPage } from '@/features/run/RunPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <RunPage id={Number(id)} />;
}
