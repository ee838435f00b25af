import { useRouter } from 'expo-router';
import { Button } from '@/ui/Button';
import { Empty } from '@/ui/State';

/** An address that leads nowhere. */
export function Nowhere() {
  const router = useRouter();
  return (
    <main>
      <Empty
        title="There is no such page"
        text="The address may be cut short. Everything in the library is where it was."
      >
        <Button label="To the arrivals" onPress={() => router.replace('/arrivals')} />
      </Empty>
    </main>
  );
}
