import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { Icon, type IconName } from './Icon';
import { CORNER, SIZE } from './tokens';
import { Words } from './Words';

/** Something somebody did, as a row that leads there: the picture it is about or a sign, what it was, and when. */
export function ToldRow({
  sha,
  icon,
  text,
  when,
  fresh,
  onPress,
}: {
  /** The picture it is about, once that is known. */
  sha?: string | undefined;
  /** What stands there instead of a picture. */
  icon: IconName;
  text: string;
  when: string;
  fresh: boolean;
  onPress: () => void;
}) {
  return (
    <Pressable
      role="link"
      onPress={onPress}
      className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:opacity-70"
    >
      {sha ? (
        <img
          src={smallOf(sha)}
          alt=""
          style={{ width: SIZE.field, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
        />
      ) : (
        <View className="h-field w-field items-center justify-center rounded-picture bg-line">
          <Icon name={icon} size={20} tone="soft" />
        </View>
      )}
      <View className="min-w-0 flex-1">
        <Words numberOfLines={3}>{text}</Words>
        <Words kind="small" className={fresh ? 'font-semi text-juniper' : ''}>
          {when}
        </Words>
      </View>
      <Icon name="right" size={18} tone="soft" />
    </Pressable>
  );
}
