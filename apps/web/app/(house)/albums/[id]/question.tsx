import { useLocalSearchParams } from 'expo-router';
import { SmartEditorOf } from '@/features/question/SmartEditor';

export default function Route() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SmartEditorOf id={Number(id)} />;
}
