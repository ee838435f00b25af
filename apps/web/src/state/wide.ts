import { useWindowDimensions } from 'react-native';

/** Whether there is room for the rail, panels and the docked pile. */
export const useWide = (): boolean => useWindowDimensions().width >= 900;

/** Whether a phone lies on its side: too low for anything but one picture, or one map. */
export function useLying(): boolean {
  const { width, height } = useWindowDimensions();
  return height < 500 && width > height && width < 900;
}

/** Whether a screen is so low that acts which stay in sight would leave no room for what they are about. */
export const useLow = (): boolean => useWindowDimensions().height < 640;
