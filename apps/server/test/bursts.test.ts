import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { DEMO, openHouse, type House } from './house';
import { LONG } from './long';

interface Truth {
  path: string;
  burst: string | null;
  folder: string;
  blurred: boolean;
  people: { person: string; eyesClosed: boolean }[];
}

/** Bursts of the made-up household in which somebody blinks or a shot is blurred; the short form has a few of them. */
describe('bursts', () => {
  let house: House;
  let source: string;
  const truth = (JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: Truth[] }).files.filter(
    (t) => t.burst && /\.jpg$/i.test(t.path),
  );
  const bad = (t: Truth) => t.blurred || t.people.some((p) => p.eyesClosed);
  const bursts = [...new Set(truth.map((t) => t.burst!))]
    .map((name) => truth.filter((t) => t.burst === name && t.folder === truth.find((o) => o.burst === name)!.folder))
    .filter((shots) => shots.some(bad) && shots.some((t) => !bad(t)))
    .slice(0, LONG ? undefined : 3);

  beforeAll(async () => {
    house = await openHouse({ recognise: true });
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-bursts-'));
    for (const t of bursts.flat()) cpSync(path.join(DEMO, t.path), path.join(source, t.burst!, path.basename(t.path)));
    await house.takeIn(source);
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  test('the shot that is kept first is neither blurred nor one in which somebody blinks, and every mark points at a kept one', async () => {
    const rows = (await house.app.db('pictures').select('id', 'name', 'alike_id')) as {
      id: number;
      name: string;
      alike_id: number | null;
    }[];
    const kept = new Set(rows.filter((r) => r.alike_id === null).map((r) => r.id));
    expect(rows.every((r) => r.alike_id === null || kept.has(r.alike_id))).toBe(true);
    const firsts = bursts.map((shots) => {
      const of = (t: Truth) => rows.find((r) => r.name === path.basename(t.path))!;
      const marked = shots.filter((t) => of(t).alike_id !== null);
      // The kept shot that others of the burst point at.
      const first = shots.find((t) => marked.some((m) => of(m).alike_id === of(t).id));
      return first && bad(first) ? `${first.path} of ${first.burst}` : null;
    });
    const wrong = firsts.filter((one) => one !== null);
    console.log(
      `${bursts.length} bursts with a blink or a blur: ${wrong.length} begin with a bad shot ${wrong.join(', ')}`,
    );
    // Shut lids behind glasses are not seen.
    expect(wrong.length).toBeLessThanOrEqual(Math.max(1, bursts.length / 8));
  });
});
