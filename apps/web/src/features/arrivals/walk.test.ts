import { bundles, dropped, type Found } from './walk';

const found = (path: string): Found => ({ path, file: { name: path } as File });

/** A made-up folder as the browser hands it over: a hundred entries at a time. */
function folder(name: string, children: object[]): object {
  return {
    name,
    isFile: false,
    createReader: () => {
      let at = 0;
      return { readEntries: (ok: (some: object[]) => void) => ok(children.slice(at, (at += 100))) };
    },
  };
}
const leaf = (name: string) => ({ name, isFile: true, file: (ok: (file: File) => void) => ok({ name } as File) });

describe('what is dropped', () => {
  test('every folder is a bundle of its own, loose files are one', () => {
    const made = bundles([
      found('a.jpg'),
      found('Harvest/1.jpg'),
      found('Harvest/deep/2.jpg'),
      found('Lake/3.jpg'),
      found('b.jpg'),
    ]);
    expect(made.map((b) => [b.name, b.files.length])).toEqual([
      [null, 2],
      ['Harvest', 2],
      ['Lake', 1],
    ]);
  });

  test('whole trees are walked, folders of more than a hundred files too', async () => {
    const many = Array.from({ length: 230 }, (_, i) => leaf(`${i}.jpg`));
    const tree = folder('Summer', [folder('July', many), leaf('x.jpg')]);
    const data = {
      items: [{ webkitGetAsEntry: () => tree }, { webkitGetAsEntry: () => null }],
    } as unknown as DataTransfer;
    const { files } = await dropped(data);
    expect(files).toHaveLength(231);
    expect(files[0]!.path).toBe('Summer/July/0.jpg');
    expect(files[230]!.path).toBe('Summer/x.jpg');
  });
});
