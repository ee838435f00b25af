import type { ReactNode } from 'react';
import { Text, type TextProps } from 'react-native';
import { dress } from './dress';

const KINDS = {
  title: 'font-serif text-title text-ink',
  heading: 'font-serif text-head text-ink',
  body: 'font-sans text-body text-ink',
  strong: 'font-semi text-body text-ink',
  small: 'font-sans text-small text-soft',
  tiny: 'font-sans text-tiny text-soft',
  number: 'font-serif text-figure text-ink',
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
