import { useLocalSearchParams } from 'expo-router';
import { TouchUp } from '@/features/touchup/TouchUp';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TouchUp key={id} id={Number(id)} />;
}
