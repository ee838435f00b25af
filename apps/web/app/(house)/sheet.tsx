import { useLocalSearchParams } from 'expo-router';
import { OneSheet } from '@/features/sheet/OneSheet';

export default function Route() {
  const { ids } = useLocalSearchParams<{ ids: string }>();
  return <OneSheet key={ids} ids={(ids ?? '').split(',').map(Number).filter(Boolean)} />;
}
