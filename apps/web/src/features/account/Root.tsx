import { Figtree_400Regular } from '@expo-google-fonts/figtree/400Regular';
import { Figtree_500Medium } from '@expo-google-fonts/figtree/500Medium';
import { Figtree_600SemiBold } from '@expo-google-fonts/figtree/600SemiBold';
import { Figtree_700Bold } from '@expo-google-fonts/figtree/700Bold';
import { Fraunces_600SemiBold } from '@expo-google-fonts/fraunces/600SemiBold';
import { i18n } from '@lingui/core';
import { I18nProvider } from '@lingui/react';
import { QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { Slot, usePathname } from 'expo-router';
import { useEffect } from 'react';
import { queries } from '@/api/query';
import { beginHere, useBegun } from '@/device/begin';
import { applyScheme, useLook } from '@/state/look';
import { Mishap } from '@/ui/Mishap';
import { Toast } from '@/ui/Toast';
import { begin, useSpeech } from '@/words/speak';
import { useSpokenAsChosen } from './spoken';

// The catalogue, and what this device keeps, are on their way before anything is drawn.
if (typeof window !== 'undefined') {
  void begin();
  void beginHere();
}

/** What stands around every page: fonts, colours, the language, the server's answers, the toast. */
export function Root() {
  useFonts({ Figtree_400Regular, Figtree_500Medium, Figtree_600SemiBold, Figtree_700Bold, Fraunces_600SemiBold });
  const scheme = useLook((look) => look.scheme);
  const path = usePathname();
  const language = useSpeech((speech) => speech.language);
  const begun = useBegun((state) => state.begun);
  useEffect(() => {
    applyScheme(scheme);
    const system = matchMedia('(prefers-color-scheme: dark)');
    const follow = () => applyScheme(scheme);
    system.addEventListener('change', follow);
    return () => system.removeEventListener('change', follow);
  }, [scheme]);
  if (!language || !begun) return null;
  // Everything is drawn anew in another language, so that nothing keeps words of the old one.
  return (
    <I18nProvider key={language} i18n={i18n}>
      <QueryClientProvider client={queries}>
        <Spoken />
        <Mishap at={path}>
          <Slot />
        </Mishap>
        <Toast />
      </QueryClientProvider>
    </I18nProvider>
  );
}

function Spoken() {
  useSpokenAsChosen();
  return null;
}
