import { plural, t } from '@lingui/core/macro';
import type { Person } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { ForWhomOf } from '@/features/sight/ForWhomOf';
import { changePerson, forgetPerson } from './acts';
import { CircleChips } from './CircleChips';

/** What is known of a person, to be changed: names, birth date, circles, favourite, hidden; joining, forgetting. */
export function PersonSheet({ person, onClose, onJoin }: { person: Person; onClose: () => void; onJoin: () => void }) {
  const router = useRouter();
  const keeper = useMe().data?.member?.part === 'keeper';
  const [name, setName] = useState(person.name);
  const [nickname, setNickname] = useState(person.nickname ?? '');
  const [born, setBorn] = useState(person.born);
  const [mine, setMine] = useState(person.circles);
  const [favourite, setFavourite] = useState(person.favourite);
  const [hidden, setHidden] = useState(person.hidden);
  const [stopping, setStopping] = useState(false);
  const called = person.nickname ?? person.name.split(' ')[0]!;
  const keep = async () => {
    const change = {
      name: name.trim(),
      nickname: nickname.trim() || null,
      born,
      circles: mine,
      favourite,
      hidden,
    };
    if (await changePerson(person.id, change, t`Details changed`)) onClose();
  };
  const recognise = async (on: boolean) => {
    onClose();
    await act(
      () => call('recognisePerson', { params: { id: person.id }, body: { on } }),
      ({ deleted }) =>
        on
          ? [t`${called} is recognised again`, t`Looking through the pictures.`]
          : [
              t`${called} won’t be recognised any more`,
              plural(deleted, {
                one: '# description deleted. The names stay.',
                other: '# descriptions deleted. The names stay.',
              }),
            ],
      'people',
    );
  };
  if (stopping)
    return (
      <Sheet title={t`Stop recognising ${called}?`} onClose={onClose}>
        <Words>
          {t`Everything that describes ${called}’s face is deleted at once and can’t be brought back. Names you gave stay. New pictures won’t be named ${called}, and you won’t be asked about them.`}
        </Words>
        <Button weight="brick" label={t`Delete and stop recognising`} onPress={() => void recognise(false)} />
        <Button weight="quiet" label={t`Back`} onPress={() => setStopping(false)} />
      </Sheet>
    );
  return (
    <Sheet title={person.name} onClose={onClose}>
      <Field label={t`Name`} value={name} onChangeText={setName} maxLength={160} />
      <Field label={t`Nickname`} value={nickname} onChangeText={setNickname} maxLength={160} />
      <DayField label={t`Born`} value={born} onChange={setBorn} />
      <CircleChips chosen={mine} onChange={setMine} />
      <View className="flex-row flex-wrap gap-2">
        <Chip label={t`Favourite`} icon="heart" on={favourite} onPress={() => setFavourite(!favourite)} />
        <Chip label={t`Hide from Who`} on={hidden} onPress={() => setHidden(!hidden)} />
      </View>
      <Button label={t`Save`} onPress={() => void keep()} disabled={!name.trim()} />
      <ForWhomOf
        of="person"
        id={person.id}
        name={person.name}
        text={t`Every picture ${called} is in, unless you set the picture otherwise.`}
      />
      <View className="items-start gap-0.5 border-t border-line pt-3">
        {person.portraitByHand ? (
          <Button
            weight="quiet"
            className="px-0"
            label={t`Choose the portrait automatically`}
            onPress={() => {
              onClose();
              void changePerson(person.id, { portrait: null }, t`Portrait chosen automatically`);
            }}
          />
        ) : null}
        <Button weight="quiet" className="px-0" label={t`Join with somebody …`} onPress={onJoin} />
        <Button
          weight="quiet"
          className="px-0"
          label={t`Remove the name`}
          onPress={() => {
            onClose();
            void forgetPerson(person.id, person.name).then((did) => did && router.replace('/browse/who'));
          }}
        />
        {keeper ? (
          person.recognised ? (
            <Button
              weight="quiet"
              className="px-0"
              label={t`Stop recognising ${called} …`}
              onPress={() => setStopping(true)}
            />
          ) : (
            <Button
              weight="quiet"
              className="px-0"
              label={t`Recognise ${called} again`}
              onPress={() => void recognise(true)}
            />
          )
        ) : null}
      </View>
    </Sheet>
  );
}
