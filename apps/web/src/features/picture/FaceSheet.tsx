import { t } from '@lingui/core/macro';
import type { FaceAnswer, FaceMark } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { answerFaces } from '@/features/person/acts';
import { NameInput } from '@/features/person/NameInput';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { sayWhy } from '@/words/said';

/** Who one face of a picture is. */
export function FaceSheet({ face, onClose }: { face: FaceMark; onClose: () => void }) {
  const router = useRouter();
  const answer = (is: FaceAnswer['is']) => {
    onClose();
    void answerFaces([face.id], [], is);
  };
  return (
    <Sheet title={face.person?.name ?? t`Whose face?`} onClose={onClose}>
      <View className="flex-row items-center gap-4">
        <Cameo face={face.id} width={72} />
        <Words className="flex-1 text-soft">
          {face.person
            ? face.namedBy === 'machine'
              ? t`Named automatically. Tell us if it isn’t right.`
              : t`Named by hand.`
            : face.likely
              ? `${t`Probably ${face.likely.name}`}. ${sayWhy(face.likely.why)}.`
              : face.state === 'passer-by'
                ? t`A passer-by: nobody will be asked for a name.`
                : t`No name yet.`}
        </Words>
      </View>
      {face.likely && !face.person ? (
        <View className="flex-row gap-3">
          <Button
            className="flex-1"
            label={t`Yes, ${face.likely.name}`}
            onPress={() => answer({ person: face.likely!.id })}
          />
          <Button label={t`No`} weight="second" onPress={() => answer('unnamed')} />
        </View>
      ) : null}
      {face.person && face.namedBy === 'machine' ? (
        <Button label={t`Yes, this is ${face.person.name}`} onPress={() => answer({ person: face.person!.id })} />
      ) : null}
      <NameInput label={face.person || face.likely ? t`Or somebody else` : t`Name`} onName={answer} />
      {face.person ? (
        <>
          <Button
            label={t`See pictures of ${face.person.name}`}
            weight="second"
            onPress={() => router.push({ pathname: '/person/[id]', params: { id: face.person!.id } })}
          />
          <Button label={t`This isn’t ${face.person.name}`} weight="quiet" onPress={() => answer('unnamed')} />
        </>
      ) : null}
      <View className="flex-row justify-center gap-2">
        {face.state !== 'passer-by' ? (
          <Button label={t`Passer-by`} weight="quiet" onPress={() => answer('passer-by')} />
        ) : null}
        <Button label={t`Not a face`} weight="quiet" onPress={() => answer('not a face')} />
      </View>
    </Sheet>
  );
}
