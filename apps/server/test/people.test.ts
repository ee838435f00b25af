import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { DEMO, openHouse, type House } from './house';

interface Face {
  id: number;
  picture_id: number;
  x: number;
  y: number;
  w: number;
  h: number;
  state: string;
  person_id: number | null;
  named_by: string | null;
}
interface Truth {
  path: string;
  event: string | null;
  kind: string;
  width: number;
  height: number;
  people: { person: string; box: [number, number, number, number]; passerby: boolean }[];
}

/** Naming, with real faces of the made-up household whose truth is known. */
describe('people', () => {
  let house: House;
  let source: string;
  let faces: (Face & { who: string | null })[];

  const all = async () => (await house.app.db('faces').orderBy('id')) as Face[];
  const who = (name: string) => faces.filter((f) => f.who === name);
  const answer = (some: { id: number }[], is: object | string, odd: { id: number }[] = []) =>
    house.call('answerFaces', {
      body: { faces: some.map((f) => f.id), odd: odd.map((f) => f.id), is: is as never },
    });
  const state = async (id: number) => (await all()).find((f) => f.id === id)!;

  beforeAll(async () => {
    house = await openHouse();
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-people-'));
    const truth = (JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: Truth[] }).files.filter(
      (t) => t.event === 'emil-birthday' && t.kind === 'photo' && /^(ilses|martens)/.test(t.path),
    );
    for (const t of truth) cpSync(path.join(DEMO, t.path), path.join(source, path.basename(t.path)));
    await house.takeIn(source);
    const pictures = (await house.app.db('pictures').select('id', 'name', 'width', 'height')) as {
      id: number;
      name: string;
      width: number;
      height: number;
    }[];
    faces = (await all()).map((f) => {
      const p = pictures.find((one) => one.id === f.picture_id)!;
      const known = truth.find((t) => path.basename(t.path) === p.name)!;
      const [cx, cy] = [(f.x + f.w / 2) * p.width, (f.y + f.h / 2) * p.height];
      const hit = known.people.find(({ box: [x, y, w, h] }) => cx > x && cx < x + w && cy > y && cy < y + h);
      return { ...f, who: hit?.person ?? null };
    });
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  test('the household’s faces are found and gathered into groups that mostly hold one person', async () => {
    expect(who('emil').length).toBeGreaterThan(2);
    const { groups, faces: waiting } = await house.call('introductions', {});
    expect(waiting).toBeGreaterThan(10);
    const large = groups.filter((g) => g.faces.length > 1);
    expect(large.length).toBeGreaterThan(2);
    let right = 0;
    let pairs = 0;
    for (const group of large)
      for (const a of group.faces)
        for (const b of group.faces)
          if (a.id < b.id) {
            pairs++;
            const [x, y] = [a, b].map((one) => faces.find((f) => f.id === one.id)!.who);
            right += Number(x === y);
          }
    console.log(`groups of a birthday: ${((100 * right) / pairs).toFixed(0)} % of ${pairs} pairs right`);
    expect(right / pairs).toBeGreaterThan(0.85);
    for (const group of groups) expect(new Set(group.faces.map((f) => f.picture)).size).toBe(group.faces.length);
  });

  test('an answer files all but the odd ones, and undo brings back exactly what was', async () => {
    const [a, b, c] = who('emil') as Face[] as [Face, Face, Face];
    const before = await all();
    const stood = await answer([a, b, c], { newPerson: 'Emil Hallorin' }, [c]);
    expect(await state(a.id)).toMatchObject({ state: 'named', named_by: 'hand' });
    expect(await state(c.id)).toMatchObject({ named_by: null });
    const emil = (await house.call('people', {})).people.find((p) => p.name === 'Emil Hallorin')!;
    expect(emil.portrait).not.toBeNull();
    expect(await house.app.db('face_refusals').where({ face_id: c.id, person_id: emil.id }).first()).toBeDefined();
    await house.call('restoreFaces', { body: stood });
    await house.quiet();
    const plain = (rows: Face[]) => rows.map(({ id, state: s, person_id, named_by }) => [id, s, person_id, named_by]);
    expect(plain(await all())).toEqual(plain(before));
    expect((await house.call('people', {})).people).toEqual([]);
    expect(await house.app.db('face_refusals').first()).toBeUndefined();
  });

  test('nobody stands twice in one picture', async () => {
    const byPicture = new Map<number, Face[]>();
    for (const f of faces) byPicture.set(f.picture_id, [...(byPicture.get(f.picture_id) ?? []), f]);
    const [x, y] = [...byPicture.values()].find((list) => list.length > 1)! as [Face, Face];
    await expect(answer([x, y], { newPerson: 'Twice' })).rejects.toThrow('Two of these faces are in one picture');
    const stood = await answer([x], { newPerson: 'Once' });
    const once = (await house.call('people', {})).people.find((p) => p.name === 'Once')!;
    await expect(answer([y], { person: once.id })).rejects.toThrow('nobody is in a picture twice');
    await house.call('restoreFaces', { body: stood });
  });

  test('a few answers are enough to file or offer the rest, and nobody wrong is filed', async () => {
    for (const name of ['emil', 'tove', 'marten', 'ilse'])
      if (who(name).length > 3)
        for (const face of who(name).slice(0, 3)) await answer([face], { newPerson: name }).catch(() => undefined);
    await house.quiet();
    const people = new Map((await house.call('people', {})).people.map((p) => [p.id, p.name]));
    const filed = (await all()).filter((f) => f.named_by === 'machine');
    const wrong = filed.filter((f) => people.get(f.person_id!) !== faces.find((one) => one.id === f.id)!.who);
    console.log(`${filed.length} faces filed by themselves, ${wrong.length} wrong`);
    expect(wrong).toHaveLength(0);
    expect((await house.call('people', {})).people.some((p) => p.likely > 0) || filed.length > 0).toBe(true);
  });

  test('a no is never asked again; passers-by and things that are no face leave the groups', async () => {
    const person = (await house.call('people', {})).people.find((p) => p.likely > 0);
    if (person) {
      const { faces: likely } = await house.call('likelyFaces', { params: { id: person.id } });
      await answer([likely[0]!], 'unnamed');
      await house.quiet();
      const again = (await house.call('likelyFaces', { params: { id: person.id } })).faces;
      expect(again.map((f) => f.id)).not.toContain(likely[0]!.id);
      expect((await state(likely[0]!.id)).person_id).not.toBe(person.id);
    }
    const { groups } = await house.call('introductions', {});
    const group = groups[groups.length - 1]!;
    const stood = await answer(group.faces, 'passer-by');
    await house.quiet();
    const shown = async () => (await house.call('introductions', {})).groups.flatMap((g) => g.faces.map((f) => f.id));
    expect(await shown()).not.toContain(group.faces[0]!.id);
    await house.call('restoreFaces', { body: stood });
    await house.quiet();
    expect(await shown()).toContain(group.faces[0]!.id);
    await answer(group.faces, 'not a face');
    const picture = await house.call('picture', { params: { id: group.faces[0]!.picture } });
    expect(picture.faces.map((f) => f.id)).not.toContain(group.faces[0]!.id);
    await answer(group.faces, 'unnamed');
    const later = await answer([group.faces[0]!], 'later');
    expect(later.said).toBe('later');
    expect(await shown()).not.toContain(group.faces[0]!.id);
  });

  test('what is known of a person can change, but a name belongs to one', async () => {
    const [first, second] = (await house.call('people', {})).people;
    await house.call('changePerson', {
      params: { id: first!.id },
      body: { nickname: 'Birthday child', circle: 'Household', born: '2020-05-02' },
    });
    expect((await house.call('people', {})).people.find((p) => p.id === first!.id)).toMatchObject({
      nickname: 'Birthday child',
      circle: 'Household',
      born: '2020-05-02',
    });
    if (second)
      await expect(
        house.call('changePerson', { params: { id: second.id }, body: { name: first!.name } }),
      ).rejects.toThrow('Somebody of this name is known already.');
    const foreign = (await all()).find((f) => f.person_id !== first!.id)!;
    await expect(
      house.call('changePerson', { params: { id: first!.id }, body: { portrait: foreign.id } }),
    ).rejects.toThrow('does not show this person');
    expect((await house.fetch(`/api/faces/${first!.portrait}/portrait`)).headers.get('content-type')).toBe(
      'image/webp',
    );
    await expect(house.call('changePerson', { params: { id: 999_999 }, body: { name: 'x' } })).rejects.toThrow();
  });
});
