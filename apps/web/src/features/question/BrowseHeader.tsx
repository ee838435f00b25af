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
  ['When', '/browse'],
  ['Where', '/browse/where'],
  ['Who', '/browse/who'],
  ['What', '/browse/what'],
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
        <nav aria-label="Ways of looking" style={{ display: 'flex', gap: wide ? 26 : 12 }}>
          {WAYS.map(([name, href]) => (
            <Link
              key={name}
              href={href}
              aria-current={name === way ? 'page' : undefined}
              style={{ display: 'flex', flexDirection: 'column', minHeight: SIZE.touch, justifyContent: 'center' }}
            >
              <Words
                numberOfLines={1}
                className={`font-serif ${wide ? 'text-head' : 'text-lead'} ${name === way ? 'text-juniper' : 'text-soft'}`}
              >
                {name}
              </Words>
              <div
                style={{
                  height: 4,
                  boxSizing: 'border-box',
                  borderTop: '1px solid',
                  borderBottom: '1px solid',
                  borderColor: name === way ? 'rgb(var(--juniper))' : 'transparent',
                }}
              />
            </Link>
          ))}
        </nav>
        {way === 'When' ? (
          <View className="-mr-2.5 flex-row items-center">
            {wide && !calendar && !folders ? <SizeSlider /> : null}
            {calendar || folders ? null : (
              <IconButton
                name="sizes"
                label="How pictures are shown"
                pressed={sizing}
                onPress={() => setSizing(!sizing)}
              />
            )}
            <IconButton
              name={calendar || folders ? 'browse' : 'date'}
              label={calendar || folders ? 'Back to the pictures' : 'Calendar'}
              onPress={() => router.navigate(calendar || folders ? '/browse' : '/browse/calendar')}
            />
          </View>
        ) : null}
        {way === 'Where' ? (
          <IconButton
            name={map ? 'flat' : 'map'}
            label={map ? 'Places as a list' : 'Map'}
            onPress={() => router.navigate(map ? '/browse/where' : '/browse/map')}
          />
        ) : null}
      </View>
      {sizing && way === 'When' && !calendar && !folders ? <LookPanel /> : null}
      {children}
    </View>
  );
}
