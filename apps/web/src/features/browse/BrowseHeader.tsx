import { Link, usePathname, useRouter } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { useLook } from '@/state/look';
import { useWide } from '@/state/wide';
import { IconButton } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { QuestionBar } from '../question/QuestionBar';

const WAYS = [
  ['When', '/browse'],
  ['Where', '/browse/where'],
  ['Who', '/browse/who'],
  ['What', '/browse/what'],
] as const;

/** The size of the pictures in the grid. */
export function SizeSlider() {
  const wide = useWide();
  const { rowHeight, setRowHeight } = useLook();
  return (
    <input
      type="range"
      aria-label="Size of the pictures"
      min={60}
      max={wide ? 380 : 260}
      value={rowHeight || (wide ? 165 : 112)}
      onChange={(event) => setRowHeight(Number(event.target.value))}
      style={{ width: wide ? 130 : '100%', minHeight: 44, accentColor: 'rgb(var(--juniper))' }}
    />
  );
}

/** What stands over all four ways of looking at the library. */
export function BrowseHeader({ way, children }: { way: (typeof WAYS)[number][0]; children?: ReactNode }) {
  const wide = useWide();
  const [sizing, setSizing] = useState(false);
  const router = useRouter();
  const calendar = usePathname() === '/browse/calendar';
  return (
    <View className={wide ? 'pt-[18px]' : 'pt-3.5'} style={{ zIndex: 6, overflow: 'visible' }}>
      <QuestionBar />
      <View className="mb-3 mt-1 flex-row items-center justify-between">
        <nav aria-label="Ways of looking" style={{ display: 'flex', gap: wide ? 26 : 18 }}>
          {WAYS.map(([name, href]) => (
            <Link
              key={name}
              href={href}
              aria-current={name === way ? 'page' : undefined}
              style={{ display: 'flex', flexDirection: 'column', minHeight: 44, justifyContent: 'center' }}
            >
              <Words className={`font-serif text-[21px] leading-[28px] ${name === way ? 'text-juniper' : 'text-soft'}`}>
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
          <View className="flex-row items-center">
            {calendar ? null : wide ? (
              <SizeSlider />
            ) : (
              <IconButton
                name="sizes"
                label="Size of the pictures"
                pressed={sizing}
                onPress={() => setSizing(!sizing)}
              />
            )}
            <IconButton
              name={calendar ? 'browse' : 'date'}
              label={calendar ? 'Back to the pictures' : 'Calendar'}
              pressed={calendar}
              onPress={() => router.navigate(calendar ? '/browse' : '/browse/calendar')}
            />
          </View>
        ) : null}
      </View>
      {sizing && !wide ? <SizeSlider /> : null}
      {children}
    </View>
  );
}
