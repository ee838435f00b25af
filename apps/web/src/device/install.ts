import { create } from 'zustand';

interface Asking extends Event {
  prompt(): Promise<void>;
  userChoice: Promise<{ outcome: 'accepted' | 'dismissed' }>;
}

/** Whether this browser offers to install Gemmel, and whether it runs in a window of its own. */
export const useInstall = create<{ asking: Asking | null; own: boolean }>()(() => ({
  asking: null,
  own: typeof matchMedia !== 'undefined' && matchMedia('(display-mode: standalone)').matches,
}));

if (typeof window !== 'undefined') {
  window.addEventListener('beforeinstallprompt', (event) => {
    // It is offered where somebody looks for it, and never in the way.
    event.preventDefault();
    useInstall.setState({ asking: event as Asking });
  });
  window.addEventListener('appinstalled', () => useInstall.setState({ asking: null }));
}

/** Lets the browser ask whether Gemmel is to be installed. */
export async function install(): Promise<void> {
  const { asking } = useInstall.getState();
  if (!asking) return;
  await asking.prompt();
  await asking.userChoice;
  useInstall.setState({ asking: null });
}

/** Shows on the icon of an installed Gemmel how much waits. */
export function badge(n: number): void {
  const on = navigator as Navigator & {
    setAppBadge?: (n: number) => Promise<void>;
    clearAppBadge?: () => Promise<void>;
  };
  if (!useInstall.getState().own) return;
  void (n ? on.setAppBadge?.(n) : on.clearAppBadge?.())?.catch(() => undefined);
}
