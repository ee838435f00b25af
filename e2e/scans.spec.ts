import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { drawScan } from '../packages/core/src/scan/drawn.testing';
import { accessible, ask, expect, gemmel, test } from './house';
import { OUT } from './server';

interface Listed {
  total: number;
  scans: { id: number; name: string; prints: unknown[] }[];
}
interface Shown {
  width: number;
  height: number;
  touched: boolean;
  name: string;
  taken: string | null;
  looks: { id: number }[];
  pair: { id: number; front: boolean } | null;
}

test('a scan is taken apart: frames put right, a print turned, all of it dated on one sheet, and taken back @long', async ({
  inside: page,
  home,
  own,
  wide,
}) => {
  const folder = path.join(OUT, `scans-${wide ? 'wide' : 'phone'}`);
  mkdirSync(folder, { recursive: true });
  const { image } = drawScan(wide ? 21 : 7, { prints: 4, border: 'white' }, 900);
  const name = `${own('Gran’s box')}.jpg`;
  await sharp(image.data, { raw: { width: image.width, height: image.height, channels: 3 } })
    .jpeg()
    .toFile(path.join(folder, name));
  gemmel(home, 'import', folder);
  rmSync(folder, { recursive: true });
  const listed = () => ask<Listed>(page, '/api/scans');
  await expect
    .poll(async () => (await listed()).scans.some((one) => one.name === name), { timeout: 30_000 })
    .toBe(true);
  const { id } = (await listed()).scans.find((one) => one.name === name)!;
  const picture = (one: number) => ask<Shown>(page, `/api/pictures/${one}`);

  await page.goto('/arrivals');
  await page.getByRole('button', { name: /^Scans/ }).click();
  await expect(page.getByRole('heading', { name: 'Scans' })).toBeVisible();
  await accessible(page);
  await page.getByRole('link', { name }).click();
  await expect(page.getByText('4 prints on the glass')).toBeVisible();
  await expect(page.getByRole('img', { name: 'Print 4' })).toBeVisible();
  await accessible(page);

  // A frame too many is taken away; a corner is moved by the finger and by a key.
  await page.getByRole('button', { name: 'Add a frame' }).click();
  await expect(page.getByText('5 prints on the glass')).toBeVisible();
  await page.getByRole('button', { name: 'Remove its frame' }).click();
  await page.getByRole('button', { name: 'Choose print 1' }).click();
  const corner = page.getByRole('button', { name: 'Print 1: Top left corner' });
  const before = (await corner.boundingBox())!;
  await page.mouse.move(before.x + before.width / 2, before.y + before.height / 2);
  await page.mouse.down();
  await page.mouse.move(before.x + before.width / 2 + 12, before.y + before.height / 2 + 8, { steps: 3 });
  await page.mouse.up();
  const after = (await corner.boundingBox())!;
  expect(Math.round(after.x - before.x)).toBeGreaterThan(8);
  await corner.press('Shift+ArrowLeft');
  await expect.poll(async () => (await corner.boundingBox())!.x).toBeLessThan(after.x);
  await page.getByRole('button', { name: 'Turn print 1' }).click();

  await page.getByRole('button', { name: 'Take apart into 4 pictures' }).click();
  await expect(page.getByText('Taken apart into 4 pictures. The scan itself stays as it was.')).toBeVisible();
  const first = await picture(id);
  expect([first.touched, first.looks.length]).toEqual([true, 3]);
  await page.goto(`/picture/${first.looks[0]!.id}`);
  await expect(page.getByText('4 prints of one scan')).toBeVisible();

  const ids = [id, ...first.looks.map((look) => look.id)];
  await page.goto(`/sheet?ids=${ids.join(',')}`);
  await expect(page.getByRole('heading', { name: 'When, where and who' })).toBeVisible();
  const when = page.getByRole('button', { name: /^When\?|^Date:/ });
  await expect(when).toHaveCount(4);
  await when.first().click();
  await page.getByLabel('Date', { exact: true }).fill('summer 1962');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Summer 1962').first()).toBeVisible();
  await page.getByRole('button', { name: 'Date as above' }).first().click();
  await expect.poll(async () => (await picture(ids[1]!)).taken?.slice(0, 4)).toBe('1962');
  await accessible(page);

  // Undone, it is one scan again, and its looks are in the bin.
  const { acts } = await ask<{ acts: { id: number; kind: string }[] }>(page, '/api/acts');
  const apart = acts.find((one) => one.kind === 'take apart')!;
  await ask(page, `/api/acts/${apart.id}/undo`, {});
  await expect.poll(async () => (await picture(id)).touched).toBe(false);
  expect((await picture(id)).looks).toEqual([]);
  const { name: library } = await ask<{ name: string }>(page, '/api/library');
  await ask(page, '/api/bin', { ids: [id] });
  await ask(page, '/api/bin/empty', { ids, word: library });
});
