import { useLocalSearchParams } from 'expo-router';
import { PersonPage } from '@/features/person/PersonPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PersonPage id={Number(id)} />;
}
