import { smallOf } from '@/api/client';
import { CORNER, SIZE } from '@/ui/tokens';

/** A picture as high as a strip, in its own shape as far as twice as wide; what it shows is said by what it stands in. */
export const StripImage = ({ sha, shape }: { sha: string; shape: number }) => (
  <img
    src={smallOf(sha)}
    alt=""
    loading="lazy"
    style={{
      height: SIZE.strip,
      width: SIZE.strip * Math.min(2, shape),
      objectFit: 'cover',
      borderRadius: CORNER.picture,
      background: 'rgb(var(--line))',
    }}
  />
);
