import { Pressable, View } from 'react-native';
import { Words } from './Words';

/** A switch; with its words beside it when they are to be shown. */
export function Switch({
  on,
  label,
  shown = false,
  onTurn,
}: {
  on: boolean;
  label: string;
  shown?: boolean;
  onTurn: () => void;
}) {
  return (
    <Pressable
      role="switch"
      aria-checked={on}
      aria-label={label}
      onPress={onTurn}
      className="min-h-touch min-w-11 flex-row items-center gap-2"
    >
      <View className={`h-5 w-9 justify-center rounded-full px-0.5 ${on ? 'items-end bg-juniper' : 'bg-soft'}`}>
        <View className="h-4 w-4 rounded-full bg-card" />
      </View>
      {shown ? <Words kind="small">{label}</Words> : null}
    </Pressable>
  );
}
