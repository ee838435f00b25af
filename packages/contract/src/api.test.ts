import { z } from 'zod';
import { api, fileRoutes } from './api';
import type { Endpoint } from './endpoint';
import { FaceAnswer } from './peopleApi';
import { PictureChange } from './shapes';

const routes = Object.entries(api) as [string, Endpoint][];

describe('the table of routes', () => {
  test('no two routes are the same, and every one has a rule and a summary', () => {
    const all = [...routes.map(([, e]) => e), ...fileRoutes].map((e) => `${e.method} ${e.path.replace(/:\w+/g, ':')}`);
    expect(new Set(all).size).toBe(all.length);
    for (const [, e] of routes) {
      expect(['keeper', 'helper', 'relative', 'account', 'nobody']).toContain(e.part);
      expect(e.summary.length).toBeGreaterThan(10);
    }
  });

  test.each(routes)('%s: the parameters of its path are those of its schema', (_, e) => {
    const inPath = [...e.path.matchAll(/:(\w+)/g)].map((m) => m[1]).sort();
    const inSchema = e.params instanceof z.ZodObject ? Object.keys(e.params.shape).sort() : [];
    expect(inSchema).toEqual(inPath);
    if (e.method === 'GET') expect(e.body).toBeUndefined();
  });

  test('reading is open to relatives at least; what changes the library is not', () => {
    const asking = [
      'makeZip',
      'skeleton',
      'count',
      'pictures',
      'tiles',
      'tilesAtOnce',
      'wholePictures',
      'positions',
      'searchPlaces',
      'mapNames',
      'ask',
      'facets',
      'saidTogether',
      'bestOf',
      'showOf',
      'slides',
    ];
    // What is everybody's own: their words, the questions they keep at hand, the way back from both.
    const coming = [
      'beginSecond',
      'confirmSecond',
      'endSecond',
      'changeAccount',
      'changePassword',
      'signOutAt',
      'signOutElsewhere',
      'leave',
      'acceptInvite',
      'useReset',
      'bringLibraryBack',
      'eraseLibrary',
    ];
    const own = [
      'comment',
      'changeComment',
      'removeComment',
      'makePin',
      'changePin',
      'removePin',
      'undo',
      'ownHeart',
      'openBatch',
    ];
    const guests = [
      'enterShare',
      'guestComment',
      'takeGuestComment',
      'guestHeart',
      'announceAdditions',
      'takeAddition',
      'forgotPassword',
    ];
    const passkeys = ['beginPasskey', 'addPasskey', 'endPasskey', 'beginPasskeySignIn', 'signInByPasskey'];
    const told = ['noticesSeen', 'setTold', 'addPushPlace', 'endPushPlace'];
    const open = new Set([
      ...guests,
      ...passkeys,
      ...told,
      'openWall',
      'wallSlides',
      'signOut',
      'setPile',
      'firstRun',
      'signIn',
      'chooseLanguage',
      ...asking,
      ...own,
      ...coming,
    ]);
    for (const [name, e] of routes)
      if (e.method !== 'GET' && !open.has(name))
        expect([name, ['keeper', 'helper'].includes(e.part)]).toEqual([name, true]);
  });
});

describe('what crosses', () => {
  test.each([
    [{ rating: 6 }],
    [{ rating: 2.5 }],
    [{ addTags: [''] }],
    [{ unknown: 1 }],
    [{ taken: '2026-05-16T14:07' }],
  ])('%j is no change', (change) => expect(PictureChange.safeParse(change).success).toBe(false));
  test('a change may say several things; words are trimmed', () => {
    expect(PictureChange.parse({ title: '  Kites ', addTags: [' a '] })).toEqual({
      title: 'Kites',
      addTags: ['a'],
    });
    expect(PictureChange.parse({ caption: null })).toEqual({ caption: null });
  });
  test('an answer about faces names somebody or nobody', () => {
    expect(FaceAnswer.parse({ faces: [1], is: { newPerson: ' Åsa ' } })).toEqual({
      faces: [1],
      odd: [],
      is: { newPerson: 'Åsa' },
    });
    for (const is of ['later', 'passer-by', 'not a face', 'unnamed', { person: 3 }])
      expect(FaceAnswer.safeParse({ faces: [1], is }).success).toBe(true);
    for (const bad of [
      { faces: [], is: 'later' },
      { faces: [1], is: 'nobody' },
      { faces: [1], is: { newPerson: ' ' } },
    ])
      expect(FaceAnswer.safeParse(bad).success).toBe(false);
  });
});
