import { t } from '@lingui/core/macro';
import type { MapEngine } from '@/map/engine';

/** The map's files by what they are. */
export type MapFiles = Record<
  'engine' | 'worker' | 'style' | 'land' | 'shores' | 'borders' | 'lakes' | 'ponds',
  string
>;

let loading: Promise<{ engine: MapEngine; files: MapFiles }> | null = null;

async function load(): Promise<{ engine: MapEngine; files: MapFiles }> {
  const files = (await (await fetch('/map/files.json')).json()) as MapFiles;
  const sheet = document.createElement('link');
  sheet.rel = 'stylesheet';
  sheet.href = files.style;
  document.head.append(sheet);
  await new Promise<void>((done, fail) => {
    const script = document.createElement('script');
    script.src = files.engine;
    script.onload = () => done();
    script.onerror = () => fail(new Error(t`The map couldn’t be loaded. Nothing is lost; try again in a moment.`));
    document.head.append(script);
  });
  const engine = window.gemmelMap!;
  engine.setWorkerUrl(new URL(files.worker, location.href).href);
  return { engine, files };
}

/** Fetches what draws maps, once, when the first map is shown. */
export function loadMap(): Promise<{ engine: MapEngine; files: MapFiles }> {
  loading ??= load().catch((error: unknown) => {
    loading = null;
    throw error;
  });
  return loading;
}
