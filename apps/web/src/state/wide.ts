import { useWindowDimensions } from 'react-native';

/** Whether there is room for the rail, panels and the docked pile. */
export const useWide = (): boolean => useWindowDimensions().width >= 900;
