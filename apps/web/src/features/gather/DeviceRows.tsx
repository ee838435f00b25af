import { t } from '@lingui/core/macro';
import type { LedgerEntry } from '@gemmel/contract';
import { Link } from 'expo-router';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Heading } from '@/ui/DoubleBar';
import { Icon, type IconName } from '@/ui/Icon';
import { Words } from '@/ui/Words';
import { clearLine, storedLine } from './ledgerWords';
import { SIZE } from '@/ui/tokens';
import { sayNumber } from '@/ui/say';

/** A device's drawing: a phone when one delivers from it, a folder for a watched one, else a camera. */
export const iconOf = (entry: LedgerEntry): IconName =>
  entry.sources.some((s) => s.kind === 'phone') || /phone|pixel|mobile/i.test(entry.name)
    ? 'phone'
    : entry.device === null && entry.sources.some((s) => s.kind === 'folder')
      ? 'folder'
      : 'camera';

/** The household's devices in a few lines each: what is stored, up to which day each may be cleared. */
export function DeviceRows({ most = 6 }: { most?: number }) {
  const devices = useAnswer('ledger', {}).data?.devices ?? [];
  if (devices.length === 0) return null;
  const shown = [...devices].sort((a, b) => (b.lastSeen ?? '').localeCompare(a.lastSeen ?? '')).slice(0, most);
  return (
    <View>
      <Heading
        right={
          <Link href="/devices" style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}>
            <Words className="font-semi text-small text-juniper">
              {devices.length > shown.length ? t`All ${sayNumber(devices.length)}` : t`More`}
            </Words>
          </Link>
        }
      >{t`Household devices`}</Heading>
      {shown.map((entry) => {
        const clear = clearLine(entry);
        return (
          <Link
            key={`${entry.device} ${entry.name}`}
            href="/devices"
            style={{ display: 'flex', gap: 14, alignItems: 'flex-start', paddingVertical: 10 }}
            className="border-t border-line"
          >
            <View className="pt-0.5">
              <Icon name={iconOf(entry)} size={19} />
            </View>
            <View className="min-w-0 flex-1">
              <Words kind="strong" numberOfLines={1}>
                {entry.name}
              </Words>
              <Words kind="small">{storedLine(entry)}</Words>
              <Words kind="small" className={`font-semi ${clear.settled ? 'text-juniper' : 'text-marigold'}`}>
                {clear.text}
              </Words>
            </View>
          </Link>
        );
      })}
    </View>
  );
}
