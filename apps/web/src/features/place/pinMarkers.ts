import { plural } from '@lingui/core/macro';
import type { Marker } from 'maplibre-gl';
import { smallOf } from '@/api/client';
import { useTileStore, want } from '@/state/tiles';
import { sayNumber } from '@/ui/say';
import type { Pin } from '@/workers/pins';
import type { ReadyMap } from './BaseMap';
import { tileLabel } from '@/words/said';

const keyOf = (pin: Pin) => (pin.cluster === null ? `p${pin.id}` : `c${pin.cluster}:${pin.n}`);

/** Pins as small pictures with their number, drawn over the map and kept while they stay where they are. */
export class PinMarkers {
  private markers = new Map<string, { marker: Marker; element: HTMLButtonElement; pin: Pin }>();
  private off: () => void;

  constructor(
    private ready: ReadyMap,
    private onPress: (pin: Pin) => void,
  ) {
    this.off = useTileStore.subscribe(() => this.paint());
  }

  /** Shows these pins and no others. */
  show(pins: readonly Pin[]): void {
    const next = new Set(pins.map(keyOf));
    for (const [key, { marker }] of this.markers)
      if (!next.has(key)) {
        marker.remove();
        this.markers.delete(key);
      }
    for (const pin of pins) {
      const key = keyOf(pin);
      if (this.markers.has(key)) continue;
      const element = document.createElement('button');
      element.type = 'button';
      element.className = 'map-pin';
      element.setAttribute('aria-label', plural(pin.n, { one: '# picture here', other: '# pictures here' }));
      if (pin.n > 1) {
        const badge = document.createElement('span');
        badge.textContent = sayNumber(pin.n);
        element.append(badge);
      }
      element.addEventListener('click', (event) => {
        event.stopPropagation();
        this.onPress(pin);
      });
      const marker = new this.ready.engine.Marker({ element }).setLngLat([pin.lon, pin.lat]).addTo(this.ready.map);
      this.markers.set(key, { marker, element, pin });
    }
    want(pins.map((pin) => pin.id));
    this.paint();
  }

  /** Marks the pin that holds a spot, so that the map shows where the picture in hand is. */
  mark(spot: [lon: number, lat: number] | null): void {
    let best: HTMLButtonElement | null = null;
    let least = 40;
    const at = spot && this.ready.map.project(spot);
    for (const { element, pin } of this.markers.values()) {
      element.classList.remove('on');
      if (!at) continue;
      const p = this.ready.map.project([pin.lon, pin.lat]);
      const far = Math.hypot(p.x - at.x, p.y - at.y);
      if (far < least) [best, least] = [element, far];
    }
    best?.classList.add('on');
  }

  /** Takes everything away. */
  end(): void {
    this.off();
    for (const { marker } of this.markers.values()) marker.remove();
    this.markers.clear();
  }

  private paint(): void {
    const { tiles } = useTileStore.getState();
    for (const { element, pin } of this.markers.values()) {
      const tile = tiles.get(pin.id);
      if (!tile || element.dataset['sha'] === tile.sha) continue;
      element.dataset['sha'] = tile.sha;
      element.style.backgroundImage = `url(${smallOf(tile.sha)})`;
      element.setAttribute(
        'aria-label',
        pin.n > 1 ? plural(pin.n, { one: '# picture here', other: '# pictures here' }) : tileLabel(tile),
      );
    }
  }
}
