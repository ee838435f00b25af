import { t } from '@lingui/core/macro';
import type { Circle, Person } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { ForWhomOf } from '@/features/sight/ForWhomOf';
import { changeCircle, makeCircle, removeCircle } from './acts';
import { PeoplePicker } from '@/ui/PeoplePicker';

/** A circle: its name, its place in the order, who is in it. `circle` null makes a new one. */
export function CircleSheet({
  circle,
  circles,
  people,
  onClose,
}: {
  circle: Circle | null;
  circles: readonly Circle[];
  people: readonly Person[];
  onClose: () => void;
}) {
  const [name, setName] = useState(circle?.name ?? '');
  const [members, setMembers] = useState<number[]>(
    circle ? people.filter((p) => p.circles.includes(circle.id)).map((p) => p.id) : [],
  );
  const at = circle ? circles.findIndex((c) => c.id === circle.id) : -1;
  const called = name.trim();
  const keep = () => {
    onClose();
    if (circle) void changeCircle(circle.id, { name: called, people: members }, t`Circle “${called}” changed`);
    else void makeCircle(called, members);
  };
  const move = (by: number) => {
    onClose();
    void changeCircle(
      circle!.id,
      { position: at + by },
      by < 0 ? t`“${circle!.name}” moved up` : t`“${circle!.name}” moved down`,
    );
  };
  return (
    <Sheet title={circle ? circle.name : t`A new circle`} onClose={onClose}>
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        maxLength={160}
        placeholder={t`The cousins, the neighbours …`}
      />
      <Words kind="small">{t`Who is in it? People can be in several circles.`}</Words>
      <PeoplePicker people={people} chosen={members} onChange={setMembers} />
      <Button label={t`Save`} disabled={!called} onPress={keep} />
      {circle ? (
        <ForWhomOf
          of="circle"
          id={circle.id}
          name={circle.name}
          text={t`Every picture with somebody of this circle, unless you set them otherwise.`}
        />
      ) : null}
      {circle ? (
        <View className="flex-row flex-wrap justify-center gap-1">
          {at > 0 ? <Button label={t`Move up`} weight="quiet" icon="up" onPress={() => move(-1)} /> : null}
          {at < circles.length - 1 ? (
            <Button label={t`Move down`} weight="quiet" icon="down" onPress={() => move(1)} />
          ) : null}
          <Button
            label={t`Remove circle`}
            weight="quiet"
            onPress={() => {
              onClose();
              void removeCircle(circle.id, circle.name);
            }}
          />
        </View>
      ) : null}
    </Sheet>
  );
}
