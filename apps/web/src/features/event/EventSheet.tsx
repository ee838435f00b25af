import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Button, Chip } from '@/ui/Button';
import { Field, SpanFields } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { sayLongDay } from '@/ui/say';
import { useMe } from '@/features/account/session';
import { ShareSheet } from '../share/ShareSheet';
import { changeEvent, nameIt } from './acts';
import { sayEventPlace } from '@/words/said';

/** An event's name, days, place and cover, as people say them. */
export function EventSheet({ id, onClose }: { id: number; onClose: () => void }) {
  const detail = useAnswer('event', { params: { id } }).data;
  if (!detail)
    return (
      <Sheet title={t`Event`} onClose={onClose}>
        <Waiting />
      </Sheet>
    );
  return <Shaped key={detail.event.id} id={id} onClose={onClose} />;
}

function Shaped({ id, onClose }: { id: number; onClose: () => void }) {
  const { event, best, names } = useAnswer('event', { params: { id } }).data!;
  const [from, setFrom] = useState<string | null>(event.start);
  const [to, setTo] = useState<string | null>(event.end);
  const [place, setPlace] = useState(event.place ?? '');
  const title = event.title ?? sayLongDay(event.start);
  const keeper = useMe().data?.member?.part === 'keeper';
  const [sharing, setSharing] = useState(false);
  const moved = from && to && (from !== event.start || to !== event.end);
  if (sharing) return <ShareSheet what={{ event: id }} title={title} onClose={onClose} />;
  return (
    <Sheet title={title} onClose={onClose}>
      {names.length && !event.title ? (
        <View>
          <Words kind="small">{t`Suggested names`}</Words>
          <View className="flex-row flex-wrap gap-x-2">
            {names.map((name) => (
              <Chip key={name} label={name} onPress={() => (onClose(), void nameIt(event, name))} />
            ))}
          </View>
        </View>
      ) : null}
      <SpanFields from={from} to={to} onFrom={setFrom} onTo={setTo} />
      <Button
        label={t`Use these days`}
        weight="second"
        disabled={!moved}
        onPress={() => {
          onClose();
          if (from && to) void changeEvent(id, { span: { from, to } }, t`${title} now runs on the days you chose`);
        }}
      />
      <Field
        label={t`Where it was, in your own words`}
        value={place}
        placeholder={sayEventPlace(event) ?? ''}
        onChangeText={setPlace}
        maxLength={160}
      />
      <Button
        label={t`Use this place`}
        weight="second"
        disabled={place.trim() === (event.place ?? '')}
        onPress={() => {
          onClose();
          void changeEvent(
            id,
            { place: place.trim() || null },
            place.trim() ? t`Place of ${title}: ${place.trim()}` : t`Place removed`,
          );
        }}
      />
      {keeper ? (
        <Button label={t`Share this event`} weight="second" icon="send" onPress={() => setSharing(true)} />
      ) : null}
      <View role="radiogroup" aria-label={t`Cover`}>
        <Words kind="small">{t`Cover`}</Words>
        <div
          style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(84px, 1fr))', gap: 4, marginTop: 6 }}
        >
          {best.map((picture, i) => {
            const on = event.cover === picture.id;
            return (
              <button
                key={picture.id}
                type="button"
                role="radio"
                aria-checked={on}
                aria-label={t`Cover ${i + 1} of ${best.length}`}
                onClick={() =>
                  void changeEvent(
                    id,
                    { cover: on ? null : picture.id },
                    on ? t`Cover chosen automatically` : t`Cover chosen`,
                  )
                }
                style={{
                  height: 84,
                  border: on ? '3px solid rgb(var(--juniper))' : '0',
                  borderRadius: 6,
                  cursor: 'pointer',
                  background: `center / cover url(${smallOf(picture.sha)})`,
                }}
              />
            );
          })}
        </div>
      </View>
    </Sheet>
  );
}
