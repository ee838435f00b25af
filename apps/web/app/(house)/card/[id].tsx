import { useLocalSearchParams } from 'expo-router';
import { CardPage } from '@/features/gather/CardPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <CardPage key={id} id={Number(id)} />;
}
