import { plural, t } from '@lingui/core/macro';
import { memo } from 'react';
import { View } from 'react-native';
import type { HeadingBlock } from '../browse/Grid';
import { IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { useChapters } from './chapters';

/** A heading or a note among the pictures of an album. */
export const ChapterHeading = memo(function ChapterHeading({ block }: { block: HeadingBlock }) {
  const { by, edit } = useChapters();
  const chapter = block.kind === 'chapter' ? by.get(block.chapter) : undefined;
  if (!chapter) return null;
  const pictures = block.to - block.from;
  return (
    <View style={{ height: block.height }} className="justify-end pb-2">
      <View className="flex-row items-start gap-2.5">
        {chapter.heading ? (
          <View className="pt-2.5">
            <DoubleBar />
          </View>
        ) : null}
        <View className="min-w-0 flex-1">
          {chapter.heading ? (
            <View className="flex-row flex-wrap items-baseline gap-x-3">
              <Words kind="heading" aria-level={2} numberOfLines={2}>
                {chapter.heading}
              </Words>
              {pictures ? (
                <Words kind="small">{plural(pictures, { one: '# picture', other: '# pictures' })}</Words>
              ) : null}
            </View>
          ) : null}
          {chapter.note ? <Words className="max-w-[640px] font-serif italic">{chapter.note}</Words> : null}
        </View>
        {edit ? (
          <IconButton
            className="-mt-1.5"
            name="edit"
            size={16}
            tone="soft"
            label={chapter.heading ? t`Change “${chapter.heading}”` : t`Change this note`}
            onPress={() => edit(chapter)}
          />
        ) : null}
      </View>
    </View>
  );
});
