import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { trouble } from '@/state/toast';
import { Door } from './Door';
import { goInto, signOut, useMe } from './session';

/** For somebody who is signed in and doesn't belong to the library that was asked for, or to none. */
export function NoLibrary() {
  const router = useRouter();
  const libraries = useMe().data?.libraries ?? [];
  return (
    <Door>
      <Words>
        {libraries.length
          ? t`You don’t belong to this library. These are yours:`
          : t`You don’t belong to a library at the moment. Whoever keeps one can invite you.`}
      </Words>
      {libraries.map(({ slug, name }) => (
        <Button key={slug} label={name} onPress={() => goInto(slug)} />
      ))}
      <Button
        label={t`Sign out`}
        weight="second"
        onPress={() => void signOut().then(() => router.replace('/sign-in'), trouble)}
      />
    </Door>
  );
}
