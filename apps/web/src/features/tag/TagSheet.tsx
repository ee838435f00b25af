import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { type Branch, findBranches, pathSaid } from './tree';

type Choosing = 'below' | 'join' | null;

/** Everything that can be done with a word: its name, its spellings, where it stands, what it is joined into, and its end. */
export function TagSheet({
  branch: { tag, path },
  branches,
  onClose,
}: {
  branch: Branch;
  branches: readonly Branch[];
  onClose: () => void;
}) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const [name, setName] = useState(tag.name);
  const [spellings, setSpellings] = useState(tag.spellings.join(', '));
  const [choosing, setChoosing] = useState<Choosing>(null);
  const beside = useAnswer('tagsBeside', { params: { id: tag.id } }).data?.tags ?? [];
  const change = async (body: { name?: string; parent?: number | null; spellings?: string[] }, said: string) => {
    if (await act(() => call('changeTag', { params: { id: tag.id }, body }), said, 'tags', 'said')) onClose();
  };
  const save = async () => {
    const wanted = spellings
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean);
    const body = {
      ...(name.trim() && name.trim() !== tag.name ? { name: name.trim() } : {}),
      ...(wanted.join(',') === tag.spellings.join(',') ? {} : { spellings: wanted }),
    };
    if (Object.keys(body).length === 0) return onClose();
    await change(body, body.name ? t`“${tag.name}” is now “${body.name}”` : t`Spellings changed`);
  };
  if (choosing)
    return (
      <ChooseTag
        title={choosing === 'below' ? t`Put “${tag.name}” below …` : t`Join “${tag.name}” into …`}
        branches={branches.filter(
          (one) => one.tag.id !== tag.id && !one.path.join('\n').startsWith(`${path.join('\n')}\n`),
        )}
        note={(other) =>
          choosing === 'join'
            ? plural(tag.pictures, { one: '# picture changes', other: '# pictures change' })
            : sayNumber(other.below)
        }
        onChoose={(other) => {
          onClose();
          if (choosing === 'below') void change({ parent: other.id }, t`“${tag.name}” is now below “${other.name}”`);
          else
            void act(
              () => call('joinTags', { params: { id: tag.id }, body: { to: other.id } }),
              t`“${tag.name}” is now “${other.name}”`,
              'tags',
              'said',
            );
        }}
        onClose={() => setChoosing(null)}
      />
    );
  return (
    <Sheet title={pathSaid(path)} onClose={onClose}>
      <Words kind="small">
        {tag.below === tag.pictures
          ? plural(tag.pictures, { one: '# picture bears this word.', other: '# pictures bear this word.' })
          : t`${plural(tag.pictures, { one: '# picture bears this word', other: '# pictures bear this word' })}, ${sayNumber(tag.below)} with all below.`}
      </Words>
      <Field
        label={t`Name, everywhere`}
        value={name}
        onChangeText={setName}
        maxLength={250}
        onSubmitEditing={() => void save()}
      />
      <Field
        label={t`Other spellings, with commas`}
        placeholder={t`biking, bicycle`}
        value={spellings}
        onChangeText={setSpellings}
        maxLength={800}
        onSubmitEditing={() => void save()}
      />
      <Button label={t`Save`} onPress={() => void save()} />
      {beside.length ? (
        <View>
          <Words kind="small">{t`Often given together with`}</Words>
          <View className="flex-row flex-wrap gap-x-2">
            {beside.map((other) => (
              <Chip
                key={other.id}
                label={`${other.name} ${sayNumber(other.pictures)}`}
                onPress={() => {
                  onClose();
                  set({ all: [{ tag: tag.id }, { tag: other.id }] });
                  router.push('/browse');
                }}
              />
            ))}
          </View>
        </View>
      ) : null}
      <View>
        <Button
          label={t`Put it below another word`}
          weight="quiet"
          className="justify-start px-2"
          onPress={() => setChoosing('below')}
        />
        {tag.parent !== null ? (
          <Button
            label={t`Put it at the top`}
            weight="quiet"
            className="justify-start px-2"
            onPress={() => void change({ parent: null }, t`“${tag.name}” is now at the top`)}
          />
        ) : null}
        <Button
          label={t`Join it into another word`}
          weight="quiet"
          className="justify-start px-2"
          onPress={() => setChoosing('join')}
        />
        {tag.pictures ? (
          <Button
            label={plural(tag.pictures, { one: 'Take it off # picture', other: 'Take it off all # pictures' })}
            weight="quiet"
            className="justify-start px-2"
            onPress={() => {
              onClose();
              void act(
                () => call('clearTag', { params: { id: tag.id }, body: {} }),
                ({ pictures }) =>
                  plural(pictures, {
                    one: `“${tag.name}” taken off # picture`,
                    other: `“${tag.name}” taken off # pictures`,
                  }),
                'tags',
                'said',
              );
            }}
          />
        ) : null}
        <Button
          label={t`Remove the word`}
          weight="quiet"
          className="justify-start px-2"
          onPress={() => {
            onClose();
            void act(() => call('removeTag', { params: { id: tag.id } }), t`“${tag.name}” removed`, 'tags', 'said');
          }}
        />
      </View>
    </Sheet>
  );
}

/** Chooses a word of the tree by typing or from the list. */
function ChooseTag({
  title,
  branches,
  note,
  onChoose,
  onClose,
}: {
  title: string;
  branches: readonly Branch[];
  note: (tag: Branch['tag']) => string;
  onChoose: (tag: Branch['tag']) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState('');
  const shown = typed.trim() ? findBranches(branches, typed, 30) : branches.slice(0, 200);
  return (
    <Sheet title={title} onClose={onClose}>
      <Field label={t`Find`} value={typed} onChangeText={setTyped} maxLength={250} />
      <View>
        {shown.map(({ tag, path }) => (
          <Pressable
            key={tag.id}
            role="button"
            onPress={() => onChoose(tag)}
            className="min-h-touch flex-row items-center justify-between gap-3 border-b border-line px-1 active:bg-mist"
          >
            <Words className="min-w-0 shrink">{pathSaid(path)}</Words>
            <Words kind="small">{note(tag)}</Words>
          </Pressable>
        ))}
      </View>
    </Sheet>
  );
}
