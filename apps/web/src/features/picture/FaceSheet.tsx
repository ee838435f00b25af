import type { FaceAnswer, FaceMark } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { answerFaces } from '@/features/person/acts';
import { NameInput } from '@/features/person/NameInput';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** Who one face of a picture is. */
export function FaceSheet({ face, onClose }: { face: FaceMark; onClose: () => void }) {
  const router = useRouter();
  const answer = (is: FaceAnswer['is']) => {
    onClose();
    void answerFaces([face.id], [], is);
  };
  return (
    <Sheet title={face.person?.name ?? 'Whose face is this?'} onClose={onClose}>
      <View className="flex-row items-center gap-4">
        <Cameo face={face.id} width={72} />
        <Words className="flex-1 text-soft">
          {face.person
            ? face.namedBy === 'machine'
              ? 'Filed by itself, since it is sure enough. Say so if it is not right.'
              : 'Named by hand.'
            : face.likely
              ? `Probably ${face.likely.name}. ${face.likely.why}.`
              : face.state === 'passer-by'
                ? 'Somebody nobody will name.'
                : 'Nobody has named this face yet.'}
        </Words>
      </View>
      {face.likely && !face.person ? (
        <View className="flex-row gap-3">
          <Button
            className="flex-1"
            label={`Yes, ${face.likely.name}`}
            onPress={() => answer({ person: face.likely!.id })}
          />
          <Button label="No" weight="second" onPress={() => answer('unnamed')} />
        </View>
      ) : null}
      {face.person && face.namedBy === 'machine' ? (
        <Button label={`Yes, this is ${face.person.name}`} onPress={() => answer({ person: face.person!.id })} />
      ) : null}
      <NameInput label={face.person || face.likely ? 'Or somebody else' : 'Name'} onName={answer} />
      {face.person ? (
        <>
          <Button
            label={`See ${face.person.name}’s pictures`}
            weight="second"
            onPress={() => router.push({ pathname: '/person/[id]', params: { id: face.person!.id } })}
          />
          <Button label={`This is not ${face.person.name}`} weight="quiet" onPress={() => answer('unnamed')} />
        </>
      ) : null}
      <View className="flex-row justify-center gap-2">
        {face.state !== 'passer-by' ? (
          <Button label="A passer-by" weight="quiet" onPress={() => answer('passer-by')} />
        ) : null}
        <Button label="Not a face" weight="quiet" onPress={() => answer('not a face')} />
      </View>
    </Sheet>
  );
}
