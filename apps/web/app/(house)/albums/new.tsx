import { useLocalSearchParams } from 'expo-router';
import { SmartEditorNew } from '@/features/question/SmartEditor';

export default function Route() {
  const { shelf } = useLocalSearchParams<{ shelf?: string }>();
  return <SmartEditorNew shelf={shelf ? Number(shelf) : null} />;
}
