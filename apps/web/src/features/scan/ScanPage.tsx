import { readFrom, straightened, type Corners, type Pixels } from '@gemmel/core';
import type { Answer, Api, PrintCorners } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, largeOf, wordsOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { isForPage } from '@/ui/keys';
import { Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { useSize } from '@/ui/useSize';
import { Words } from '@/ui/Words';
import { keepWhole, takeApart } from './acts';
import { furtherFrame, shapeOf } from './frames';
import { useLately } from './lately';
import { PrintFrames } from './PrintFrames';

/** The long side of the glass from which prints are shown upright, in pixels. */
const SEEN = 900;

/** The pixels of a scan, for showing its prints upright; null until they are there. */
function usePixels(sha: string): { pixels: Pixels | null; failed: boolean } {
  const [state, setState] = useState<{ pixels: Pixels | null; failed: boolean }>({ pixels: null, failed: false });
  useEffect(() => {
    let gone = false;
    const image = new Image();
    image.onerror = () => !gone && setState({ pixels: null, failed: true });
    image.onload = () => {
      if (gone) return;
      const k = Math.min(1, SEEN / Math.max(image.naturalWidth, image.naturalHeight));
      const canvas = document.createElement('canvas');
      canvas.width = Math.max(1, Math.round(image.naturalWidth * k));
      canvas.height = Math.max(1, Math.round(image.naturalHeight * k));
      const context = canvas.getContext('2d', { willReadFrequently: true })!;
      context.drawImage(image, 0, 0, canvas.width, canvas.height);
      const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
      const rgb = new Uint8Array((data.length / 4) * 3);
      for (let i = 0, q = 0; i < data.length; i += 4) {
        rgb[q++] = data[i]!;
        rgb[q++] = data[i + 1]!;
        rgb[q++] = data[i + 2]!;
      }
      setState({ pixels: { width: canvas.width, height: canvas.height, data: rgb }, failed: false });
    };
    image.src = largeOf(sha);
    return () => void (gone = true);
  }, [sha]);
  return state;
}

/** A print as it will be: upright and by itself. */
function Upright({ pixels, corners, label }: { pixels: Pixels; corners: Corners; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const print = straightened(pixels, corners);
    const out = canvas.current!;
    out.width = print.width;
    out.height = print.height;
    const image = new ImageData(print.width, print.height);
    for (let i = 0, q = 0; i < image.data.length; i += 4) {
      image.data[i] = print.data[q++]!;
      image.data[i + 1] = print.data[q++]!;
      image.data[i + 2] = print.data[q++]!;
      image.data[i + 3] = 255;
    }
    out.getContext('2d')!.putImageData(image, 0, 0);
  }, [pixels, corners]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{ height: '100%', maxWidth: '100%', borderRadius: CORNER.picture, display: 'block' }}
    />
  );
}

/** One scan: the glass with a frame around each print, the prints as they will be, and what is to come of them. */
export function ScanPage({ id }: { id: number }) {
  const { data: scan, error, refetch } = useAnswer('scan', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  return scan ? <Glass scan={scan} /> : <Waiting />;
}

function Glass({ scan }: { scan: Answer<Api['scan']> }) {
  const { id, width, height } = scan;
  const router = useRouter();
  const wide = useWide();
  const add = useLately((lately) => lately.add);
  const [mine, setMine] = useState<readonly Corners[] | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [looking, setLooking] = useState<'yes' | 'no' | { failed: string }>(scan.prints ? 'no' : 'yes');
  const [busy, setBusy] = useState(false);
  const room = useRef<HTMLDivElement>(null);
  const size = useSize(room);
  const { pixels, failed } = usePixels(scan.sha);
  // Nobody has looked for prints on this one: it is looked now.
  useEffect(() => {
    if (scan.prints) return;
    let gone = false;
    call('lookForPrints', { params: { id } })
      .then((found) => {
        if (gone) return;
        setMine(found.prints ?? []);
        setLooking('no');
      })
      .catch((error: unknown) => !gone && setLooking({ failed: wordsOf(error) }));
    return () => void (gone = true);
  }, [id, scan.prints]);
  const prints = mine ?? scan.prints ?? [];
  const k = size.width ? Math.min(size.width / width, size.height / height) : 0;
  const goOn = () =>
    scan.next === null
      ? router.replace('/scans')
      : router.replace({ pathname: '/scans/[id]', params: { id: scan.next } });
  const change = (print: number, corners: Corners) => setMine(prints.map((one, i) => (i === print ? corners : one)));
  const apart = async () => {
    setBusy(true);
    const done = await takeApart(
      id,
      prints.map((one): PrintCorners => [...one]),
    );
    setBusy(false);
    if (!done) return;
    add(done);
    goOn();
  };
  const turn = (print: number) => {
    change(print, readFrom(prints[print]!, 3));
    setChosen(print);
  };
  const remove = (print: number) => {
    setMine(prints.filter((_, i) => i !== print));
    setChosen(null);
  };
  const addFrame = () => {
    setMine([...prints, furtherFrame(prints, width, height)]);
    setChosen(prints.length);
  };
  useEffect(() => {
    const keys = (event: globalThis.KeyboardEvent) => {
      if (!isForPage(event)) return;
      const number = Number(event.key) - 1;
      if (prints[number]) setChosen(number);
      else if (event.key === 'r' && chosen !== null) turn(chosen);
      else if ((event.key === 'Delete' || event.key === 'Backspace') && chosen !== null) remove(chosen);
      else if (event.key === '+') addFrame();
      else if (event.key === 'Escape' && chosen !== null) setChosen(null);
      else if (event.key === 'Escape') router.navigate('/scans');
      else if (
        event.key === 'Enter' &&
        prints.length &&
        !(event.target as HTMLElement).closest('button,a,[role=button]')
      )
        void apart();
      else return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  const glass = (
    <div
      ref={room}
      style={{
        position: 'relative',
        flex: wide ? 1 : undefined,
        minWidth: 0,
        height: wide ? 'calc(100vh - 150px)' : 'min(45vh, 400px)',
      }}
    >
      {k ? (
        <div
          style={{
            position: 'absolute',
            left: (size.width - width * k) / 2,
            top: wide ? 0 : (size.height - height * k) / 2,
            width: width * k,
            height: height * k,
          }}
        >
          <img
            src={largeOf(scan.sha)}
            alt={scan.name}
            draggable={false}
            style={{ width: '100%', height: '100%', borderRadius: CORNER.picture, userSelect: 'none' }}
          />
          {looking === 'yes' ? null : (
            <PrintFrames
              prints={prints}
              width={width * k}
              height={height * k}
              chosen={chosen}
              onChoose={setChosen}
              onChange={change}
            />
          )}
        </div>
      ) : null}
    </div>
  );
  const one = chosen !== null && prints[chosen] ? chosen : null;
  const panel = (
    <View className={wide ? 'shrink-0 gap-2' : 'mt-3 gap-2'} style={wide ? { width: 380 } : {}}>
      {looking === 'yes' ? <Words className="text-soft">{t`Looking for prints on the glass …`}</Words> : null}
      {typeof looking === 'object' ? <Words className="text-brick">{looking.failed}</Words> : null}
      {failed ? <Words className="text-brick">{t`The scan can’t be loaded right now.`}</Words> : null}
      {looking === 'no' && prints.length === 0 ? (
        <Words>{t`No prints could be made out here. You can add a frame around each one.`}</Words>
      ) : null}
      {pixels && prints.length ? (
        <div
          role="group"
          aria-label={t`The prints as they will be`}
          style={{ display: 'flex', flexWrap: wide ? 'wrap' : 'nowrap', gap: 8, overflowX: 'auto', paddingBottom: 4 }}
        >
          {prints.map((corners, i) => (
            <Pressable
              key={i}
              role="button"
              aria-label={t`Choose print ${i + 1}`}
              aria-pressed={i === one}
              onPress={() => setChosen(i)}
              className={`shrink-0 rounded-small border-2 p-1 ${i === one ? 'border-plum' : 'border-transparent'}`}
            >
              <div style={{ height: SIZE.strip, width: Math.min(2, shapeOf(corners, width, height)) * SIZE.strip }}>
                <Upright pixels={pixels} corners={corners} label={t`Print ${i + 1}`} />
              </div>
              <Words kind="small" className="text-center">
                {i + 1}
              </Words>
            </Pressable>
          ))}
        </div>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button
          className="min-w-40 flex-1"
          disabled={prints.length === 0 || busy || looking === 'yes' || scan.apart}
          label={
            busy
              ? t`Taking it apart …`
              : prints.length < 2
                ? t`Cut this print out`
                : plural(prints.length, { one: 'Take apart into # picture', other: 'Take apart into # pictures' })
          }
          onPress={() => void apart()}
        />
        {scan.apart ? (
          <Words>{t`This scan has been taken apart already. To do it again, show it as taken first.`}</Words>
        ) : null}
        {scan.prints && !scan.denied && !scan.apart ? (
          <Button
            className="min-w-40 flex-1"
            weight="second"
            label={t`It is one picture`}
            onPress={() => void keepWhole(id).then((done) => done && goOn())}
          />
        ) : null}
      </View>
      <View className="flex-row flex-wrap gap-x-4">
        {one === null ? null : (
          <>
            <Button
              label={t`Turn print ${one + 1}`}
              icon="again"
              weight="quiet"
              className="px-0"
              onPress={() => turn(one)}
            />
            <Button
              label={t`Remove its frame`}
              icon="away"
              weight="quiet"
              className="px-0"
              onPress={() => remove(one)}
            />
          </>
        )}
        {prints.length < 24 && looking !== 'yes' ? (
          <Button label={t`Add a frame`} icon="plus" weight="quiet" className="px-0" onPress={addFrame} />
        ) : null}
      </View>
      {scan.next !== null ? <Button weight="quiet" label={t`Later`} onPress={goOn} /> : null}
      <Words kind="small">
        {t`Touch a frame to move it or its corners. The tip above each number points to the top of its print. The scan itself stays as it is.`}
      </Words>
    </View>
  );
  return (
    <Page>
      <View className="flex-row items-center justify-between pt-2">
        <View className="-ml-3 flex-row items-center">
          <IconButton name="left" label={t`All scans`} onPress={() => router.navigate('/scans')} />
          <Words kind="small">{t`Scans`}</Words>
        </View>
      </View>
      <Words kind="title" numberOfLines={2}>
        {scan.name}
      </Words>
      <Words kind="small" className="mb-3">
        {prints.length ? plural(prints.length, { one: '# print on the glass', other: '# prints on the glass' }) : ' '}
      </Words>
      <View className={wide ? 'flex-row items-start gap-6' : ''}>
        {glass}
        {panel}
      </View>
    </Page>
  );
}
