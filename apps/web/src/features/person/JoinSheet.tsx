import { plural, t } from '@lingui/core/macro';
import type { Person } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Rings } from '@/ui/Rings';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { joinPeople } from './acts';
import { NameInput } from './NameInput';

/** Joins a person with another: what will happen is said first, and it can be undone. */
export function JoinSheet({ person, onClose }: { person: Person; onClose: () => void }) {
  const router = useRouter();
  const people = useAnswer('people', {}).data?.people ?? [];
  const [into, setInto] = useState<number | null>(null);
  const other = people.find((p) => p.id === into && p.id !== person.id);
  const preview = useAnswer(
    'joinPreview',
    { params: { id: person.id, into: into ?? 0 } },
    { enabled: other !== undefined },
  ).data;
  const join = async () => {
    onClose();
    if (await joinPeople(person.id, other!.id, t`${person.name} joined with ${other!.name}`))
      router.replace({ pathname: '/person/[id]', params: { id: other!.id } });
  };
  return (
    <Sheet title={t`Who is ${person.nickname ?? person.name} really?`} onClose={onClose}>
      <Words className="text-soft">{t`If one person ended up with two names, all their faces go under the one you choose here.`}</Words>
      <NameInput label={t`Name to keep`} onName={(is) => 'person' in is && setInto(is.person)} />
      {other ? (
        <>
          <View className="flex-row items-center justify-center gap-4 py-2">
            <View className="items-center">
              <Cameo face={person.portrait} width={72} />
              <Words kind="small" numberOfLines={1} className="max-w-32">
                {person.name}
              </Words>
            </View>
            <Rings size={34} />
            <View className="items-center">
              <Cameo face={other.portrait} width={72} />
              <Words kind="small" numberOfLines={1} className="max-w-32">
                {other.name}
              </Words>
            </View>
          </View>
          {preview ? (
            <Words>
              {[
                plural(preview.pictures, {
                  one: `# picture of ${person.name} will show ${other.name}.`,
                  other: `# pictures of ${person.name} will show ${other.name}.`,
                }),
                preview.both
                  ? plural(preview.both, {
                      one: `Both are named in # picture. There, the face of ${person.name} will wait for a name again, because nobody is in a picture twice.`,
                      other: `Both are named in # pictures. There, the face of ${person.name} will wait for a name again, because nobody is in a picture twice.`,
                    })
                  : '',
                preview.albums
                  ? plural(preview.albums, {
                      one: `# smart album will ask for ${other.name} instead.`,
                      other: `# smart albums will ask for ${other.name} instead.`,
                    })
                  : '',
              ]
                .filter(Boolean)
                .join(' ')}
            </Words>
          ) : null}
          <Button label={t`Join with ${other.name}`} disabled={!preview} onPress={() => void join()} />
        </>
      ) : into === person.id ? (
        <Words className="text-brick">{t`That’s the same person. Choose another name.`}</Words>
      ) : null}
    </Sheet>
  );
}
