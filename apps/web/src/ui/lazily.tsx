import { type ComponentType, type ReactNode, useEffect, useState } from 'react';

/**
 * A part of a page that is fetched when it is first shown: sheets, shows, whatever hardly anybody opens at once. `meanwhile` stands in its place
 * until it is there. Not React's own way to do so: once that has shown something in its place, it waits for 300 ms however soon the part is there.
 */
export function lazily<P extends object>(
  load: () => Promise<ComponentType<P>>,
  meanwhile?: (props: P) => ReactNode,
): ComponentType<P> {
  let Part: ComponentType<P> | null = null;
  let coming: Promise<void> | null = null;
  const begin = () =>
    (coming ??= load().then(
      (part) => void (Part = part),
      (error: unknown) => {
        // The next who needs it asks again.
        coming = null;
        throw error;
      },
    ));
  return function Lazily(props: P) {
    const [here, setHere] = useState(Part !== null);
    // Another in its place may have begun, and may be done before this one is shown: it is told all the same.
    useEffect(() => {
      if (here) return;
      let gone = false;
      begin().then(
        () => !gone && setHere(true),
        (error: unknown) =>
          !gone &&
          setHere(() => {
            throw error;
          }),
      );
      return () => {
        gone = true;
      };
    }, [here]);
    return Part ? <Part {...props} /> : (meanwhile?.(props) ?? null);
  };
}
