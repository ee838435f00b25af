import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Page } from '@/ui/State';
import { Words } from '@/ui/Words';
import others from './others.json';
import packages from './packages.json';

/** What ships with Gemmel that others made, and under what licence. */
export function MadeOf() {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <Page title={t`What Gemmel is made of`} narrow>
      <View className="gap-8">
        <View>
          <Heading>{t`Data, typefaces, drawings`}</Heading>
          {others.map(({ what, from, licence }) => (
            <View key={what} className="border-t border-line py-2.5">
              <Words className="font-medium">{what}</Words>
              <Words kind="small">{`${from} · ${licence}`}</Words>
            </View>
          ))}
        </View>
        <View>
          <Heading right={packages.reduce((n, group) => n + group.packages.length, 0)}>{t`Packages`}</Heading>
          <Words className="mb-2 text-soft">{t`Each is free to use under its own licence, from the people who wrote it.`}</Words>
          {packages.map(({ licence, packages: names }) => (
            <View key={licence} className="border-t border-line py-1.5">
              <Button
                label={`${licence}: ${plural(names.length, { one: '# package', other: '# packages' })}`}
                weight="quiet"
                icon={open === licence ? 'up' : 'right'}
                className="min-h-touch self-start px-0"
                onPress={() => setOpen(open === licence ? null : licence)}
              />
              {open === licence ? <Words kind="small">{names.join(', ')}</Words> : null}
            </View>
          ))}
        </View>
      </View>
    </Page>
  );
}
