import { useLocalSearchParams } from 'expo-router';
import { AlbumPage } from '@/features/album/AlbumPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <AlbumPage key={id} id={Number(id)} />;
}
