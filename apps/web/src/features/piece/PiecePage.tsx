import { useLocalSearchParams } from 'expo-router';
import { useAnswer } from '@/api/query';
import { Failed, Page, Waiting } from '@/ui/State';
import { BookScreen } from './BookScreen';
import { FileScreen } from './FileScreen';
import { SheetsScreen } from './SheetsScreen';

/** A piece, by its kind. */
export function PiecePage() {
  const id = Number(useLocalSearchParams<{ id: string }>().id);
  const { data, error, refetch } = useAnswer('piece', { params: { id } });
  if (error) return <Page>{<Failed error={error} again={() => void refetch()} />}</Page>;
  if (!data) return <Page>{<Waiting />}</Page>;
  const { settings } = data;
  switch (settings.kind) {
    case 'book':
      return <BookScreen piece={{ ...data, settings }} />;
    case 'prints':
    case 'collage':
    case 'card':
    case 'calendar':
      return <SheetsScreen piece={data} />;
    case 'film':
    case 'bundle':
    case 'out':
      return <FileScreen piece={data} />;
  }
}
