import { create } from 'zustand';

/** Windows a second from which on pictures are not fetched until the page slows down: nobody could see them. */
const FAST = 2.2;

/** Whether the page is rushing by too fast for pictures to be seen. */
export const useRush = create<{ rushing: boolean }>()(() => ({ rushing: false }));

/** Watches how fast an element scrolls; answers with what to call on every scroll, and with what ends it. */
export function watchRush(element: HTMLElement): { scrolled: () => void; end: () => void } {
  let top = element.scrollTop;
  let time = performance.now();
  let speed = 0;
  let resting: ReturnType<typeof setTimeout> | undefined;
  const rest = () => {
    resting = undefined;
    speed = 0;
    delete element.dataset['rushing'];
    useRush.setState({ rushing: false });
  };
  return {
    scrolled: () => {
      const now = performance.now();
      const moved = Math.abs(element.scrollTop - top);
      top = element.scrollTop;
      // A jump by the ribbon is one movement, not a speed.
      const jump = moved > 1.5 * element.clientHeight;
      if (!jump) speed = 0.7 * speed + (0.3 * moved) / Math.max(1, now - time) / (element.clientHeight / 1000);
      time = now;
      const rushing = speed > FAST;
      if (rushing !== useRush.getState().rushing) useRush.setState({ rushing });
      if (resting === undefined) element.dataset['rushing'] = '';
      clearTimeout(resting);
      resting = setTimeout(rest, 160);
    },
    end: () => {
      clearTimeout(resting);
      rest();
    },
  };
}
