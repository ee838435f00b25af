import { plural, t } from '@lingui/core/macro';
import { useRef } from 'react';
import { View } from 'react-native';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { sayBytes, sayShare } from '@/ui/say';
import { Words } from '@/ui/Words';
import { useAdding } from './adding';

/** Adds pictures from this phone or computer. */
export function AddOwn() {
  const input = useRef<HTMLInputElement>(null);
  const { going, done, wrong, send, stop } = useAdding();
  const share = going ? going.sent / Math.max(1, going.of) : 0;
  return (
    <View className="gap-2">
      <input
        ref={input}
        type="file"
        accept="image/*,video/*"
        multiple
        hidden
        aria-label={t`Pictures to add`}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          if (files.length) void send(files);
        }}
      />
      {going ? (
        <View className="gap-1 rounded-card border border-line bg-card p-4" role="status">
          <DoubleBar tone="settled" share={share} width={'100%' as unknown as number} label={sayShare(share)} />
          <Words kind="small">
            {plural(going.files, {
              one: `# file, ${sayShare(share)} sent, ${sayBytes(going.of - going.sent)} to go`,
              other: `# files, ${sayShare(share)} sent, ${sayBytes(going.of - going.sent)} to go`,
            })}
          </Words>
          <Button label={t`Stop`} weight="quiet" className="min-h-touch self-start px-0" onPress={stop} />
        </View>
      ) : (
        <Button label={t`Add your pictures`} icon="plus" onPress={() => input.current?.click()} />
      )}
      {!going && done ? (
        <Words className="text-small text-juniper" role="status">
          {plural(done, { one: 'One file has arrived. Thank you!', other: '# files have arrived. Thank you!' })}
        </Words>
      ) : null}
      {wrong ? (
        <Words className="text-small text-brick" role="alert">
          {wrong}
        </Words>
      ) : null}
    </View>
  );
}
