// What the application uses of expo-router. Its barrel would bring stacks, tabs, headers and colours along that no page has.
export { Slot } from 'expo-router/build/views/Navigator';
export { useRouter } from 'expo-router/build/hooks/useRouter';
export { usePathname } from 'expo-router/build/hooks/usePathname';
export { useLocalSearchParams } from 'expo-router/build/hooks/useLocalSearchParams';
export { router } from 'expo-router/build/imperative-api';
export { Link } from 'expo-router/build/link/Link';
export { Redirect } from 'expo-router/build/link/Redirect';
