import { useLocalSearchParams } from 'expo-router';
import { Albums } from '@/features/album/Albums';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <Albums key={id} shelf={Number(id)} />;
}
