import type { ReactNode } from 'react';
import { Text, type TextProps } from 'react-native';
import { dress } from './dress';

const KINDS = {
  title: 'font-serif text-[30px] leading-[36px] text-ink',
  heading: 'font-serif text-[20px] leading-[25px] text-ink',
  body: 'font-sans text-[16px] leading-[23px] text-ink',
  strong: 'font-semi text-[16px] leading-[22px] text-ink',
  small: 'font-sans text-[13.5px] leading-[19px] text-soft',
  tiny: 'font-sans text-[12.5px] leading-[17px] text-soft',
  number: 'font-serif text-[40px] leading-[44px] text-ink',
} as const;

interface Props extends TextProps {
  kind?: keyof typeof KINDS;
  className?: string;
  children?: ReactNode;
}

/** Text in one of the house's few sizes. Titles and headings say so to screen readers. */
export function Words({ kind = 'body', className = '', ...rest }: Props) {
  const heading =
    kind === 'title'
      ? { role: 'heading' as const, 'aria-level': 1 }
      : kind === 'heading'
        ? { role: 'heading' as const, 'aria-level': 2 }
        : {};
  return <Text {...heading} {...rest} className={dress(KINDS[kind], className)} />;
}
