import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Button } from '@/ui/Button';
import { Empty } from '@/ui/State';

/** An address that leads nowhere. */
export function Nowhere() {
  const router = useRouter();
  return (
    <main>
      <Empty
        title={t`This page doesn’t exist`}
        text={t`The address may be incomplete. Everything in the library is where it was.`}
      >
        <Button label={t`Go to Arrivals`} onPress={() => router.replace('/arrivals')} />
      </Empty>
    </main>
  );
}
