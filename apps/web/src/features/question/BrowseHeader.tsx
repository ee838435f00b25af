import { i18n } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { Link, usePathname, useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { useWide } from '@/state/wide';
import { IconButton } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { QuestionBar } from './QuestionBar';
import { LookPanel, SizeSlider, usePanel } from './LookPanel';
import { SIZE } from '@/ui/tokens';

const WAYS = [
  ['when', msg`When`, '/browse'],
  ['where', msg`Where`, '/browse/where'],
  ['who', msg`Who`, '/browse/who'],
  ['what', msg`What`, '/browse/what'],
] as const;

/** What stands over all four ways of looking at the library. */
export function BrowseHeader({ way, children }: { way: (typeof WAYS)[number][0]; children?: ReactNode }) {
  const wide = useWide();
  const { open: sizing, set: setSizing } = usePanel();
  const router = useRouter();
  const path = usePathname();
  const calendar = path === '/browse/calendar';
  const folders = path === '/browse/folders';
  const map = path === '/browse/map';
  return (
    <View className={wide ? 'pt-4' : 'pt-3.5'} style={{ zIndex: 6, overflow: 'visible' }}>
      <QuestionBar />
      <View className="mb-3 mt-1 flex-row flex-wrap items-center justify-between">
        <nav aria-label={t`Ways of looking`} style={{ display: 'flex', gap: wide ? 26 : 12 }}>
          {WAYS.map(([id, name, href]) => (
            <Link
              key={id}
              href={href}
              aria-current={id === way ? 'page' : undefined}
              style={{ display: 'flex', flexDirection: 'column', minHeight: SIZE.touch, justifyContent: 'center' }}
            >
              <Words
                numberOfLines={1}
                className={`font-serif ${wide ? 'text-head' : 'text-lead'} ${id === way ? 'text-juniper' : 'text-soft'}`}
              >
                {i18n._(name)}
              </Words>
              <div
                style={{
                  height: 4,
                  boxSizing: 'border-box',
                  borderTop: '1px solid',
                  borderBottom: '1px solid',
                  borderColor: id === way ? 'rgb(var(--juniper))' : 'transparent',
                }}
              />
            </Link>
          ))}
        </nav>
        {way === 'when' ? (
          <View className="-mr-2.5 flex-row items-center">
            {wide && !calendar && !folders ? <SizeSlider screen="browse" /> : null}
            {calendar || folders ? null : (
              <IconButton
                name="sizes"
                label={t`How pictures are shown`}
                pressed={sizing}
                onPress={() => setSizing(!sizing)}
              />
            )}
            <IconButton
              name={calendar || folders ? 'browse' : 'date'}
              label={calendar || folders ? t`Back to the pictures` : t`Calendar`}
              onPress={() => router.navigate(calendar || folders ? '/browse' : '/browse/calendar')}
            />
          </View>
        ) : null}
        {way === 'where' ? (
          <IconButton
            name={map ? 'flat' : 'map'}
            label={map ? t`Places as a list` : t`Map`}
            onPress={() => router.navigate(map ? '/browse/where' : '/browse/map')}
          />
        ) : null}
      </View>
      {sizing && way === 'when' && !calendar && !folders ? <LookPanel /> : null}
      {children}
    </View>
  );
}
