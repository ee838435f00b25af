import { t } from '@lingui/core/macro';
import { Pressable, View } from 'react-native';
import { dress } from './dress';
import { Icon, type IconName } from './Icon';
import type { Token } from './tokens';
import { Words } from './Words';

export type Weight = 'main' | 'second' | 'quiet' | 'plum' | 'brick';
const BOX: Record<Weight, string> = {
  main: 'bg-juniper',
  second: 'border border-juniper',
  quiet: '',
  plum: 'border border-plum',
  brick: 'border border-brick',
};
const TEXT: Record<Weight, [string, Token]> = {
  main: ['text-card', 'card'],
  second: ['text-juniper', 'juniper'],
  quiet: ['text-juniper', 'juniper'],
  plum: ['text-plum', 'plum'],
  brick: ['text-brick', 'brick'],
};

interface ButtonProps {
  label: string;
  onPress: () => void;
  weight?: Weight;
  icon?: IconName;
  disabled?: boolean;
  className?: string;
  testID?: string;
}

/** The house's button: 48 high, one main act a screen. */
export function Button({
  label,
  onPress,
  weight = 'main',
  icon,
  disabled = false,
  className = '',
  testID,
}: ButtonProps) {
  const [text, tone] = TEXT[weight];
  return (
    <Pressable
      role="button"
      onPress={onPress}
      disabled={disabled}
      testID={testID}
      className={dress(
        `min-h-button max-w-full flex-row items-center justify-center gap-2 rounded-act px-4 py-2 ${BOX[weight]} ${disabled ? 'opacity-60' : 'active:opacity-80'}`,
        className,
      )}
    >
      {icon ? <Icon name={icon} size={18} tone={tone} /> : null}
      <Words className={`min-w-0 shrink text-center font-semi text-body ${text}`}>{label}</Words>
    </Pressable>
  );
}

interface IconButtonProps {
  name: IconName;
  label: string;
  onPress: () => void;
  tone?: Token;
  filled?: boolean;
  pressed?: boolean;
  size?: number;
  className?: string;
}

/** A drawing to press: 44 wide and high, with its words for screen readers and on hovering. */
export function IconButton({
  name,
  label,
  onPress,
  tone = 'ink',
  filled = false,
  pressed,
  size = 20,
  className = '',
}: IconButtonProps) {
  return (
    <Pressable
      role="button"
      aria-label={label}
      {...(pressed === undefined ? {} : { 'aria-pressed': pressed })}
      onPress={onPress}
      className={`h-11 w-11 items-center justify-center rounded-full active:opacity-70 ${className}`}
    >
      <Icon name={name} tone={tone} filled={filled} size={size} />
    </Pressable>
  );
}

/** A chip: 34 high to look at, 44 to touch. */
export function Chip({
  label,
  onPress,
  on = false,
  tone = 'juniper',
  icon,
  onAway,
  awayLabel,
}: {
  label: string;
  onPress?: (() => void) | undefined;
  on?: boolean;
  tone?: 'juniper' | 'plum';
  icon?: IconName;
  onAway?: (() => void) | undefined;
  awayLabel?: string;
}) {
  const box = on
    ? tone === 'plum'
      ? 'bg-plum border-plum'
      : 'bg-juniper border-juniper'
    : tone === 'plum'
      ? 'border-plum'
      : 'bg-card border-line';
  const text = on ? 'text-card' : tone === 'plum' ? 'text-plum' : 'text-ink';
  const ink: Token = on ? 'card' : tone === 'plum' ? 'plum' : 'ink';
  return (
    <View className={`my-[5px] min-h-chip max-w-full flex-row items-center rounded-full border ${box}`}>
      <Pressable
        role={onPress ? 'button' : undefined}
        onPress={onPress}
        disabled={!onPress}
        hitSlop={6}
        className={`min-h-8 min-w-0 shrink flex-row items-center gap-1.5 pl-3.5 ${onAway ? 'pr-1' : 'pr-3.5'}`}
      >
        {icon ? (
          <View className="shrink-0">
            <Icon name={icon} size={16} tone={ink} />
          </View>
        ) : null}
        <Words className={`shrink font-medium text-small ${text}`} numberOfLines={2}>
          {label}
        </Words>
      </Pressable>
      {onAway ? (
        <Pressable
          role="button"
          aria-label={awayLabel ?? t`Remove ${label}`}
          onPress={onAway}
          hitSlop={6}
          className="h-8 w-8 items-center justify-center"
        >
          <Icon name="away" size={14} tone={ink} />
        </Pressable>
      ) : null}
    </View>
  );
}
