import type { Person } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { count } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
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
    if (await changePerson(person.id, change, 'What is known is changed')) onClose();
  };
  const recognise = async (on: boolean) => {
    onClose();
    await act(
      () => call('recognisePerson', { params: { id: person.id }, body: { on } }),
      ({ deleted }) =>
        on
          ? `${called} is recognised again. The pictures are being looked through.`
          : `${called} is never recognised again. ${count(deleted, 'description')} deleted; the names stay.`,
      'people',
    );
  };
  if (stopping)
    return (
      <Sheet title={`Never recognise ${called}?`} onClose={onClose}>
        <Words>
          {`What describes ${called}’s faces is deleted at once and cannot be brought back. The names you gave stay where they are. New pictures will not be filed under ${called}, and you will not be asked whether it is them.`}
        </Words>
        <Button weight="brick" label="Delete and never recognise" onPress={() => void recognise(false)} />
        <Button weight="quiet" label="Back" onPress={() => setStopping(false)} />
      </Sheet>
    );
  return (
    <Sheet title={person.name} onClose={onClose}>
      <Field label="Name" value={name} onChangeText={setName} maxLength={160} />
      <Field label="Nickname" value={nickname} onChangeText={setNickname} maxLength={160} />
      <DayField label="Born" value={born} onChange={setBorn} />
      <CircleChips chosen={mine} onChange={setMine} />
      <View className="flex-row flex-wrap gap-2">
        <Chip label="A favourite" icon="heart" on={favourite} onPress={() => setFavourite(!favourite)} />
        <Chip label="Hidden on Who" on={hidden} onPress={() => setHidden(!hidden)} />
      </View>
      <Button label="Keep" onPress={() => void keep()} disabled={!name.trim()} />
      <View className="items-start gap-0.5 border-t border-line pt-3">
        {person.portraitByHand ? (
          <Button
            weight="quiet"
            className="px-0"
            label="Let the best portrait be chosen"
            onPress={() => {
              onClose();
              void changePerson(person.id, { portrait: null }, 'The best portrait is chosen');
            }}
          />
        ) : null}
        <Button weight="quiet" className="px-0" label="Join with somebody …" onPress={onJoin} />
        <Button
          weight="quiet"
          className="px-0"
          label="Take the name away"
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
              label={`Never recognise ${called} …`}
              onPress={() => setStopping(true)}
            />
          ) : (
            <Button
              weight="quiet"
              className="px-0"
              label={`Recognise ${called} again`}
              onPress={() => void recognise(true)}
            />
          )
        ) : null}
      </View>
    </Sheet>
  );
}
