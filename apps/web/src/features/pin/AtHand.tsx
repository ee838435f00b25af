import { Redirect } from 'expo-router';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Failed, Waiting } from '@/ui/State';
import { useEffect } from 'react';

/** Opens the question that is at hand first: where a shortcut of the installed application leads. */
export function AtHand() {
  const { data, error, refetch } = useAnswer('pins', {});
  const set = useAsk((ask) => ask.set);
  const pin = data?.pins[0];
  useEffect(() => {
    if (pin) set(pin.question);
  }, [pin, set]);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  return data ? <Redirect href="/browse" /> : <Waiting />;
}
