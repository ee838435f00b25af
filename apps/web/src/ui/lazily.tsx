import { type ComponentType, lazy, type ReactNode, Suspense } from 'react';

/**
 * A part of a page that is fetched when it is first shown: sheets, shows, whatever hardly anybody opens at once. `meanwhile` stands in its place
 * until it is there.
 */
export function lazily<P extends object>(
  load: () => Promise<ComponentType<P>>,
  meanwhile?: (props: P) => ReactNode,
): ComponentType<P> {
  const Part = lazy(async () => ({ default: await load() })) as unknown as ComponentType<P>;
  return function Lazily(props: P) {
    return (
      <Suspense fallback={meanwhile?.(props) ?? null}>
        <Part {...props} />
      </Suspense>
    );
  };
}
