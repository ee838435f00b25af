import { useLocalSearchParams } from 'expo-router';
import { PicturePage } from '@/features/picture/PicturePage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PicturePage id={Number(id)} />;
}
