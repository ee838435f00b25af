import type { ShowSlide } from '@gemmel/contract';
import { PLAIN_SHOW, type ShowSettings } from '@gemmel/core';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Show } from '@/features/show/Show';
import { moved } from '@/features/show/player';
import { useShowSettings } from '@/features/show/settings';
import { show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

const slide = (id: number, more: Partial<ShowSlide> = {}): ShowSlide => ({
  id,
  sha: `sha${id}`,
  thumb: '',
  kind: 'photo',
  seconds: null,
  taken: '2026-05-16T14:07:00',
  takenSpan: null,
  title: `Picture ${id}`,
  caption: null,
  place: null,
  names: ['Tove'],
  faces: [],
  ...more,
});
const picture = (id: number, seconds: number | null = null) => ({ id, ratio: 1.33, seconds, taken: null });
const answers = {
  'POST /api/show': {
    title: 'Lake',
    from: '2026-05-16',
    to: '2026-05-16',
    pictures: [picture(1), picture(2, 8), picture(3)],
    chapters: [],
  },
  'POST /api/show/slides': { slides: [slide(1), slide(2, { kind: 'video', seconds: 8 }), slide(3)] },
  'GET /api/music': {
    music: [
      { id: 4, title: 'Waltz', artist: null, seconds: 60, bytes: 1 },
      { id: 5, title: 'March', artist: 'Kai', seconds: 90, bytes: 1 },
    ],
  },
};
const settings = (more: Partial<ShowSettings>) =>
  useShowSettings.setState({ settings: { ...PLAIN_SHOW, cards: false, pairs: false, ...more } });
let decodes: (() => void)[] = [];
let slow = false;

beforeAll(() => {
  HTMLImageElement.prototype.decode = () =>
    slow ? new Promise((resolve) => decodes.push(resolve)) : Promise.resolve();
  HTMLMediaElement.prototype.play = function () {
    this.dataset['plays'] = 'yes';
    return Promise.resolve();
  };
  HTMLMediaElement.prototype.pause = function () {
    this.dataset['plays'] = 'no';
  };
});
beforeEach(() => {
  slow = false;
  decodes = [];
  settings({});
});
afterEach(() => jest.useRealTimers());

const settle = (ms: number) => act(async () => void (await jest.advanceTimersByTimeAsync(ms)));
const here = () => screen.getByRole('dialog', { name: 'Show: Lake' }).dataset;
const begin = (ended = () => undefined as void) =>
  show(<Show source={{ album: 7 }} title="Album" onClose={ended} />, answers);

describe('a show', () => {
  test('goes on by itself, a clip stays until it has ended, and the last picture is followed by the end', async () => {
    jest.useFakeTimers();
    begin();
    await settle(50);
    expect(here()).toMatchObject({ slide: '0', of: '3', playing: 'true' });
    await settle(5100);
    expect(here()['slide']).toBe('1');
    await settle(30_000);
    expect(here()['slide']).toBe('1');
    await act(async () => void fireEvent.ended(document.querySelector('video')!));
    await settle(8100);
    expect(here()['slide']).toBe('2');
    await settle(5100);
    expect(here()).toMatchObject({ slide: '2', playing: 'false' });
  });

  test('no picture is shown before it is decoded, however long that takes', async () => {
    jest.useFakeTimers();
    slow = true;
    begin();
    await settle(20_000);
    expect(here()['slide']).toBe('0');
    await act(async () => decodes.splice(0).forEach((done) => done()));
    await settle(200);
    expect(here()['slide']).toBe('1');
  });

  test('keys and buttons pause, go back, jump and end it', async () => {
    let ended = 0;
    begin(() => void ended++);
    await screen.findByAltText('Picture 1');
    const key = (name: string) => fireEvent.keyDown(document.body, { key: name });
    key(' ');
    expect(here()['playing']).toBe('false');
    key('ArrowRight');
    expect(here()['slide']).toBe('1');
    key('End');
    expect(here()['slide']).toBe('2');
    key('Home');
    fireEvent.click(screen.getByRole('button', { name: 'Next picture' }));
    expect(here()['slide']).toBe('1');
    fireEvent.change(screen.getByLabelText('Jump to'), { target: { value: '2' } });
    expect(here()['slide']).toBe('2');
    key('Escape');
    expect(ended).toBe(1);
  });

  test('says what is wished under a picture, and nothing else', async () => {
    settings({ tells: { caption: false, date: true, place: false, names: true } });
    begin();
    await screen.findByAltText('Picture 1');
    expect(screen.getByText('Saturday 16 May 2026 · Tove')).toBeTruthy();
    expect(screen.queryByText('Picture 1')).toBeNull();
  });

  test('pieces of music are played in their order, and one after another; pausing the show pauses them', async () => {
    settings({ music: [5, 4], seconds: null });
    begin();
    await screen.findByAltText('Picture 1');
    const audio = () => document.querySelector<HTMLAudioElement>('audio[data-music]')!;
    await waitFor(() => expect(audio().src).toContain('/api/music/5/file'));
    expect(audio().dataset['plays']).toBe('yes');
    fireEvent.ended(audio());
    expect(audio().src).toContain('/api/music/4/file');
    fireEvent.keyDown(document.body, { key: ' ' });
    await waitFor(() => expect(audio().dataset['plays']).toBe('no'));
  });

  test('how it is played is chosen on its sheet, and kept under a name', async () => {
    const { of } = show(<Show source={{ album: 7 }} title="Album" onClose={() => undefined} />, {
      ...answers,
      'POST /api/shows': { id: 3, act: 8 },
    });
    await screen.findByAltText('Picture 1');
    fireEvent.click(screen.getByRole('button', { name: 'How it is played' }));
    fireEvent.click(screen.getByRole('button', { name: 'Shuffled' }));
    fireEvent.click(screen.getByRole('button', { name: '8 seconds' }));
    fireEvent.click(await screen.findByRole('button', { name: 'March' }));
    fireEvent.change(screen.getByLabelText('Name of the show'), { target: { value: 'For the wall' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep this show' }));
    await waitFor(() =>
      expect(of('POST', '/api/shows')[0]!.body).toEqual({
        name: 'For the wall',
        source: { album: 7 },
        settings: { ...PLAIN_SHOW, cards: false, pairs: false, order: 'shuffled', seconds: 8, music: [5] },
      }),
    );
  });

  test('after its end it begins anew, or goes round by itself where that is wished', () => {
    const state = { at: 2, playing: true, ended: false };
    expect(moved(state, { do: 'next', of: 3, again: false })).toEqual({ at: 2, playing: false, ended: true });
    expect(moved(state, { do: 'next', of: 3, again: true })).toEqual({ at: 0, playing: true, ended: false });
    expect(moved({ at: 2, playing: false, ended: true }, { do: 'toggle' })).toEqual({
      at: 0,
      playing: true,
      ended: false,
    });
    expect(moved({ at: 0, playing: true, ended: false }, { do: 'back', of: 3, again: true }).at).toBe(0);
  });
});
