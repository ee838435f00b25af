import { plural, t } from '@lingui/core/macro';
import { useAnswer } from '@/api/query';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { sayOfPictures } from './acts';
import { AudienceChips } from './AudienceChips';
import { AUDIENCES, sayMeant, sayWhy } from './audienceWords';

/** For whom some pictures are, and why; to be said otherwise. */
export function AudienceSheet({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const { data } = useAnswer('meant', { body: { ids: [...ids] } });
  const said = data && data.said === ids.length ? AUDIENCES.find((one) => data.meant[one] === ids.length) : null;
  return (
    <Sheet title={ids.length === 1 ? t`Who this picture is for` : t`Who these pictures are for`} onClose={onClose}>
      {data ? (
        <Words>
          {data.why
            ? `${sayMeant(data)}. ${sayWhy(data.why)}`
            : `${sayMeant(data)}. ${plural(data.said, { 0: '', one: 'You set it for # of them.', other: 'You set it for # of them.' })}`}
        </Words>
      ) : (
        <Words className="text-soft">{t`Looking …`}</Words>
      )}
      <AudienceChips
        none={t`Not set`}
        value={data ? (data.said === 0 ? null : said) : undefined}
        onChoose={(audience) => {
          onClose();
          void sayOfPictures(ids, audience);
        }}
      />
    </Sheet>
  );
}
