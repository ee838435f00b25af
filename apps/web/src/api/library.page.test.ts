import { inLibrary, nameLibrary, nameLinks, namedLibrary } from './library';

describe('the library of a tab', () => {
  afterEach(() => nameLibrary(null));

  it('is named in what is asked for by an address alone, and nothing is added where there is one library', () => {
    expect(inLibrary('/api/derived/ab/small')).toBe('/api/derived/ab/small');
    nameLibrary('the cabin');
    expect(inLibrary('/api/derived/ab/small')).toBe('/api/derived/ab/small?in=the%20cabin');
    expect(inLibrary('/api/pictures/3/original?save')).toBe('/api/pictures/3/original?save&in=the%20cabin');
  });

  it('stays with the tab when it is loaded again, and an address that names another wins', () => {
    nameLibrary('cabin');
    const again = (at: string) => {
      history.replaceState(null, '', at);
      let read: typeof import('./library') | undefined;
      jest.isolateModules(() => {
        read = jest.requireActual<typeof import('./library')>('./library');
      });
      return read!.namedLibrary();
    };
    expect(again('/browse')).toBe('cabin');
    expect(again('/picture/3?in=attic&x=1')).toBe('attic');
    expect(location.href).toMatch(/\/picture\/3\?x=1$/);
    expect(namedLibrary()).toBe('cabin');
  });

  it('goes with a link that is opened elsewhere', () => {
    document.body.innerHTML = '<a href="/picture/3"><b>one</b></a><a href="https://elsewhere.example/">two</a>';
    const end = nameLinks();
    const press = (at: string) =>
      document.querySelector(at)!.dispatchEvent(new Event('pointerdown', { bubbles: true }));
    press('b');
    expect(document.querySelector('a')!.getAttribute('href')).toBe('/picture/3');
    nameLibrary('cabin');
    press('b');
    press('b');
    press('a[href^=https]');
    expect([...document.querySelectorAll('a')].map((a) => a.getAttribute('href'))).toEqual([
      '/picture/3?in=cabin',
      'https://elsewhere.example/',
    ]);
    end();
  });
});
