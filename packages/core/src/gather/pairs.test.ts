import fc from 'fast-check';
import { pairFiles, withoutTail } from './pairs';

/** Each file as `role of main`, or `main`. */
const say = (...paths: string[]) =>
  pairFiles(paths).map(({ role, main }) => (main === null ? role : `${role} of ${paths[main]}`));

describe('names for the time being', () => {
  test.each([
    ['IMG_2041.jpg.uploading', 'IMG_2041.jpg'],
    ['IMG_2041.HEIC.x-17', 'IMG_2041.HEIC'],
    ['IMG_2041.jpg', 'IMG_2041.jpg'],
    ['a.raf.jpg', 'a.raf.jpg'],
    ['notes.final.jpg', 'notes.final.jpg'],
  ])('%s is %s', (came, is) => expect(withoutTail(came)).toBe(is));
});

describe('files that belong together', () => {
  test('out of a vault: the sidecar has its say, what was brought before it is kept beside unread', () => {
    const paths = ['v/a.jpg', 'v/a.jpg.xmp', 'v/a.jpg.brought.xmp', 'v/a.jpg.brought 2.xmp', 'v/b.brought.xmp'];
    expect(pairFiles(paths)).toEqual([
      { role: 'main', main: null },
      { role: 'said', main: 0 },
      { role: 'notes', main: 0 },
      { role: 'notes', main: 0 },
      { role: 'main', main: null },
    ]);
  });

  test('a negative goes with its developed still, whichever comes first', () => {
    expect(say('DCIM/DSC0001.NEF', 'DCIM/DSC0001.JPG')).toEqual(['raw of DCIM/DSC0001.JPG', 'main']);
    expect(say('a.cr3', 'a.HEIC')).toEqual(['raw of a.HEIC', 'main']);
    expect(say('a.dng')).toEqual(['main']);
  });
  test('a clip of the same name goes with its still; two clips stand for themselves', () => {
    expect(say('IMG_1.HEIC', 'IMG_1.MOV')).toEqual(['main', 'clip of IMG_1.HEIC']);
    expect(say('IMG_1.jpg', 'IMG_1.mov', 'IMG_1.mp4')).toEqual(['main', 'main', 'main']);
    expect(say('IMG_1.jpg', 'IMG_1.mts')).toEqual(['main', 'main']);
  });
  test('only in the same folder, without regard to case', () => {
    expect(say('a/IMG_1.jpg', 'b/IMG_1.mov')).toEqual(['main', 'main']);
    expect(say('A/img_1.JPG', 'a/IMG_1.mov')).toEqual(['main', 'clip of A/img_1.JPG']);
  });
  test('sidecars by either way of naming; notes of a device', () => {
    expect(say('x.jpg', 'x.xmp')).toEqual(['main', 'said of x.jpg']);
    expect(say('x.jpg', 'x.jpg.xmp')).toEqual(['main', 'said of x.jpg']);
    expect(say('x.jpg', 'x.mov', 'x.mov.xmp')).toEqual(['main', 'clip of x.jpg', 'said of x.jpg']);
    expect(say('IMG_2041.JPG', 'IMG_2041.AAE', 'IMG_O2041.AAE')).toEqual([
      'main',
      'notes of IMG_2041.JPG',
      'notes of IMG_2041.JPG',
    ]);
    expect(say('MVI_0001.AVI', 'MVI_0001.THM')).toEqual(['main', 'notes of MVI_0001.AVI']);
    expect(say('lonely.xmp')).toEqual(['main']);
    // Every kind that is written beside is read back.
    for (const kind of 'jpg jfif mpo insp png tif avif heic nef cr3 mov mp4 m4v 3gp webm mkv avi mts m2ts mpg wmv'.split(
      ' ',
    ))
      expect(say(`x.${kind}`, `x.${kind}.xmp`)).toEqual(['main', `said of x.${kind}`]);
  });
  test('an edited shot stands for the one before it, and takes over what went with it', () => {
    expect(say('IMG_2041.HEIC', 'IMG_2041.MOV', 'IMG_E2041.JPG')).toEqual([
      'before of IMG_E2041.JPG',
      'clip of IMG_E2041.JPG',
      'main',
    ]);
    expect(say('lake.jpg', 'lake-edited.jpg', 'lake.dng')).toEqual([
      'before of lake-edited.jpg',
      'main',
      'raw of lake-edited.jpg',
    ]);
    expect(say('lake-edited.jpg')).toEqual(['main']);
  });
  test('two stills of one name are two pictures', () => expect(say('a.jpg', 'a.png')).toEqual(['main', 'main']));
  test('whatever the names: every file belongs to a main or is one', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc
            .tuple(
              fc.constantFrom('', 'a/', 'b/'),
              fc.constantFrom('IMG_2041', 'IMG_E2041', 'x', 'x-edited', 'x.jpg'),
              fc.constantFrom('.jpg', '.JPG', '.mov', '.nef', '.xmp', '.aae', '.thm', '.txt', ''),
            )
            .map((parts) => parts.join('')),
          { maxLength: 14 },
        ),
        (paths) => {
          const pairs = pairFiles(paths);
          for (const { role, main } of pairs) {
            expect(role === 'main').toBe(main === null);
            if (main !== null) expect(pairs[main]!.role).toBe('main');
          }
        },
      ),
    ));
});
