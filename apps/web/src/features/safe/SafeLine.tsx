import type { Safekeeping } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { Icon } from '@/ui/Icon';
import { Words } from '@/ui/Words';

/** After so many days without a word from a place its keeper is told. */
const SILENT = 7;
const DAY = 86_400_000;

/** What a keeper has to know of safekeeping without looking for it: loud where a picture is at stake, quiet while all goes its way. */
export function troubleIn(state: Safekeeping, now = Date.now()): { text: string; loud: boolean } | null {
  const { originals, none, places, pictures, house } = state;
  const damaged = Math.max(originals.damaged, none);
  if (damaged)
    return {
      text: plural(damaged, {
        one: '# original is damaged, and no place has helped so far.',
        other: '# originals are damaged, and no place has helped so far.',
      }),
      loud: true,
    };
  if (house !== null || pictures === 0) return null;
  if (places.length === 0)
    return { text: t`Your pictures are in one place only. Add a second disk to be safe.`, loud: false };
  for (const { name, waiting, last, often, key } of places) {
    if (often === 'hand' || key) continue;
    const days = last ? Math.floor((now - Date.parse(last.began)) / DAY) : 0;
    if (days >= SILENT && waiting)
      return {
        text: plural(waiting, {
          one: `“${name}” has not come up to date for ${days} days; # picture waits.`,
          other: `“${name}” has not come up to date for ${days} days; # pictures wait.`,
        }),
        loud: true,
      };
  }
  return null;
}

/** One line on Arrivals, for keepers, when something of safekeeping needs them. */
export function SafeLine() {
  const router = useRouter();
  const keeper = useMe().data?.member?.part === 'keeper';
  const safe = useAnswer('library', {}).data?.safe;
  const state = useAnswer('safekeeping', {}, { enabled: keeper && safe === false }).data;
  const trouble = keeper && safe === false && state ? troubleIn(state) : null;
  if (!trouble) return null;
  return (
    <Pressable
      role="link"
      onPress={() => router.push('/safekeeping')}
      className="min-h-field flex-row items-center gap-3 rounded-card border border-line bg-card px-4 py-2 active:opacity-70"
    >
      <View className="min-w-0 flex-1">
        <Words kind="strong">{t`Safekeeping`}</Words>
        <Words kind="small" className={trouble.loud ? 'font-semi text-brick' : ''}>
          {trouble.text}
        </Words>
      </View>
      <Icon name="right" size={18} tone="soft" />
    </Pressable>
  );
}
