import { t } from '@lingui/core/macro';
import type { Person } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Heading } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { answerFaces } from './acts';
import { sayWhy } from '@/words/said';
import { sayNumber } from '@/ui/say';

const SHOWN = 24;

/** Faces that may be this person: yes or no to each, or to all that are shown. */
export function MayBe({ person }: { person: Person }) {
  const router = useRouter();
  const { data } = useAnswer('likelyFaces', { params: { id: person.id } });
  const [answered, setAnswered] = useState<ReadonlySet<number>>(new Set());
  const faces = (data?.faces ?? []).filter((f) => !answered.has(f.id));
  if (!faces.length) return null;
  const shown = faces.slice(0, SHOWN);
  const answer = async (some: number[], yes: boolean) => {
    setAnswered((old) => new Set([...old, ...some]));
    const back = () => setAnswered((old) => new Set([...old].filter((id) => !some.includes(id))));
    if (!(await answerFaces(some, [], yes ? { person: person.id } : 'unnamed', back))) back();
  };
  const all = shown.map((f) => f.id);
  return (
    <View>
      <Heading tone="waiting" right={faces.length}>{t`Perhaps also ${person.nickname ?? person.name}`}</Heading>
      <div
        style={{ display: 'flex', gap: 14, overflowX: 'auto', paddingBottom: 8 }}
        tabIndex={0}
        role="group"
        aria-label={t`Faces to confirm or reject`}
      >
        {shown.map((face, i) => (
          <View key={face.id} className="items-center gap-1" style={{ width: 148, flexShrink: 0 }}>
            <Pressable
              role="button"
              aria-label={t`See the picture of face ${i + 1}`}
              onPress={() => router.push({ pathname: '/picture/[id]', params: { id: face.picture } })}
            >
              <Cameo face={face.id} width={76} />
            </Pressable>
            <View style={{ minHeight: 85 }}>
              <Words kind="tiny" className="text-center" numberOfLines={5}>
                {sayWhy(face.why)}
              </Words>
            </View>
            <View className="flex-row">
              <Button
                label={t`Yes`}
                weight="quiet"
                className="min-h-touch px-3"
                onPress={() => void answer([face.id], true)}
              />
              <Button
                label={t`No`}
                weight="quiet"
                className="min-h-touch px-3"
                onPress={() => void answer([face.id], false)}
              />
            </View>
          </View>
        ))}
      </div>
      {shown.length > 1 ? (
        <View className="flex-row flex-wrap gap-2">
          <Button
            label={t`Yes to all ${sayNumber(shown.length)} shown`}
            weight="second"
            className="min-h-touch"
            onPress={() => void answer(all, true)}
          />
          <Button label={t`No to all`} weight="quiet" className="min-h-touch" onPress={() => void answer(all, false)} />
        </View>
      ) : null}
    </View>
  );
}
