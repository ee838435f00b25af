import type { Picture } from '@gemmel/contract';
import type { ComponentProps } from 'react';
import { largeOf, originalOf } from '@/api/client';
import { noteShown } from '@/device/seen';
import { Viewer as Plain } from '@/ui/Viewer';

type Props = Omit<ComponentProps<typeof Plain>, 'picture' | 'src' | 'original'> & {
  picture: ComponentProps<typeof Plain>['picture'] & Pick<Picture, 'sha'>;
  original?: string;
};

/** The large view of one of the library's pictures. Give it the picture's id as key, so that each begins whole. */
export const Viewer = ({ picture, original = originalOf(picture.id), ...rest }: Props) => (
  <Plain
    picture={picture}
    src={largeOf(picture.sha)}
    original={original}
    onShown={() => noteShown(largeOf(picture.sha))}
    {...rest}
  />
);
