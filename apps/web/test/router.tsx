import type { ReactNode } from 'react';

/** The moves a page made, in place of the real router. */
export const moves: { way: string; to: unknown }[] = [];
const move = (way: string) => (to: unknown) => void moves.push({ way, to });
export const router = {
  push: move('push'),
  replace: move('replace'),
  navigate: move('navigate'),
  back: () => void moves.push({ way: 'back', to: null }),
  canGoBack: () => false,
};

/** The router's link as a plain one. */
export function PlainLink({ children, href, ...rest }: { children?: ReactNode; href: unknown }) {
  return (
    <a href={JSON.stringify(href)} {...(rest as object)}>
      {children}
    </a>
  );
}
