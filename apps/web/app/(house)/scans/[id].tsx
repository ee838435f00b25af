import { useLocalSearchParams } from 'expo-router';
import { ScanPage } from '@/features/scan/ScanPage';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ScanPage key={id} id={Number(id)} />;
}
