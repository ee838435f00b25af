import { plural, t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { Link } from 'expo-router';
import { SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { Fact } from '@/ui/Fact';
import { StripImage } from './StripImage';

/** Other looks at the same original: the prints of one scan, or a second look beside the first. */
export function Looks({ picture }: { picture: Picture }) {
  const { looks } = picture;
  if (looks.length === 0) return null;
  const prints = looks.some((look) => look.print);
  return (
    <Fact
      title={
        prints
          ? plural(looks.length + 1, { one: '# print of one scan', other: '# prints of one scan' })
          : plural(looks.length + 1, { one: '# look at one original', other: '# looks at one original' })
      }
      tone="rule"
    >
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: SIZE.hair }}>
        {looks.map((look) => (
          <Link
            key={look.id}
            href={{ pathname: '/picture/[id]', params: { id: look.id } }}
            aria-label={look.name}
            style={{ height: SIZE.strip, display: 'flex' }}
          >
            <StripImage sha={look.sha} shape={look.shape} />
          </Link>
        ))}
      </div>
      <Words kind="small">
        {picture.isLook
          ? t`One original is behind all of them; it stays as it is.`
          : t`This is the picture they were made from; its original stays as it is.`}
      </Words>
    </Fact>
  );
}
