import { useState, type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { Icon } from '@/ui/Icon';
import { Words } from '@/ui/Words';

/** A part of a sheet that says in a line how it stands, and opens when pressed. */
export function Fold({ title, now, children }: { title: string; now: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <View className="border-t border-line">
      <Pressable
        role="button"
        aria-expanded={open}
        onPress={() => setOpen(!open)}
        className="min-h-field flex-row items-center gap-3 py-2 active:opacity-70"
      >
        <View className="min-w-0 flex-1">
          <Words kind="strong">{title}</Words>
          <Words kind="small">{now}</Words>
        </View>
        <Icon name={open ? 'up' : 'down'} size={18} tone="soft" />
      </Pressable>
      {open ? <View className="gap-2 pb-3">{children}</View> : null}
    </View>
  );
}
