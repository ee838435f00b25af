import { useLocalSearchParams } from 'expo-router';
import { ViewPage } from '@/features/sight/ViewPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ViewPage id={Number(id)} />;
}
