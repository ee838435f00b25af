import type { Answer, Api } from '@gemmel/contract';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Pin, PinsAnswer, PinsAsk } from '@/workers/pins';

type Leaves = Extract<PinsAnswer, { leaves: unknown }>['leaves'];

/** Gathers positions into pins in a worker of their own, so that a map of 100 000 pictures pans without waiting. */
export function usePins(positions: Answer<Api['positions']> | undefined) {
  const worker = useRef<Worker | null>(null);
  const waiting = useRef(new Map<number, (leaves: Leaves) => void>());
  const seq = useRef(0);
  const [pins, setPins] = useState<Pin[]>([]);
  const [loaded, setLoaded] = useState<{ box: [number, number, number, number] | null; count: number } | null>(null);
  const send = useCallback((message: PinsAsk) => worker.current?.postMessage(message), []);
  useEffect(() => {
    const made = new Worker('/workers/pins.js');
    made.onmessage = ({ data }: MessageEvent<PinsAnswer>) => {
      if ('loaded' in data) setLoaded(data.loaded);
      else if ('pins' in data) setPins(data.pins);
      else {
        waiting.current.get(data.leaves.seq)?.(data.leaves);
        waiting.current.delete(data.leaves.seq);
      }
    };
    worker.current = made;
    return () => {
      worker.current = null;
      made.terminate();
    };
  }, []);
  useEffect(() => {
    if (positions) send({ load: positions });
  }, [positions, send]);
  const show = useCallback(
    (box: [number, number, number, number], zoom: number) => send({ view: { box, zoom } }),
    [send],
  );
  const leavesOf = useCallback(
    (cluster: number) =>
      new Promise<Leaves>((done) => {
        waiting.current.set(++seq.current, done);
        send({ leaves: { cluster, seq: seq.current } });
      }),
    [send],
  );
  return { pins, loaded, show, leavesOf };
}
