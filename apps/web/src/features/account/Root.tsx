import { Figtree_400Regular } from '@expo-google-fonts/figtree/400Regular';
import { Figtree_500Medium } from '@expo-google-fonts/figtree/500Medium';
import { Figtree_600SemiBold } from '@expo-google-fonts/figtree/600SemiBold';
import { Figtree_700Bold } from '@expo-google-fonts/figtree/700Bold';
import { Fraunces_600SemiBold } from '@expo-google-fonts/fraunces/600SemiBold';
import { QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { Slot } from 'expo-router';
import { useEffect } from 'react';
import { queries } from '@/api/query';
import { applyScheme, useLook } from '@/state/look';
import { Toast } from '@/ui/Toast';

/** What stands around every page: fonts, colours, the server's answers, the toast. */
export function Root() {
  useFonts({ Figtree_400Regular, Figtree_500Medium, Figtree_600SemiBold, Figtree_700Bold, Fraunces_600SemiBold });
  const scheme = useLook((look) => look.scheme);
  useEffect(() => {
    document.documentElement.lang = 'en';
    applyScheme(scheme);
    const system = matchMedia('(prefers-color-scheme: dark)');
    const follow = () => applyScheme(scheme);
    system.addEventListener('change', follow);
    return () => system.removeEventListener('change', follow);
  }, [scheme]);
  return (
    <QueryClientProvider client={queries}>
      <Slot />
      <Toast />
    </QueryClientProvider>
  );
}
