import { useLocalSearchParams } from 'expo-router';
import { BatchPage } from '@/features/arrivals/BatchPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <BatchPage key={id} id={Number(id)} />;
}
