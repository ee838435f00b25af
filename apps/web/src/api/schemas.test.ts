import * as real from 'zod/v4';
import { z as written } from '../../bundle/schemas';

/** Schemas as pages carry them: written down, and made when something is checked. */
const z = written as unknown as typeof real.z & { becomes: (schemas: typeof real) => void };

describe('schemas of pages', () => {
  const Shape = z.enum(['wide', 'tall']);
  const Side = z.number().min(1);
  interface Tree {
    name: string;
    below: Tree[];
  }
  const Tree: real.ZodType<Tree> = z.lazy(() => z.strictObject({ name: z.string(), below: z.array(Tree) }));
  const Thing = z
    .strictObject({ shape: Shape, side: Side.optional(), by: z.string().default('hand') })
    .refine(({ side }) => side !== 13, 'not thirteen');
  const Parts = z.object({ corner: Side, name: z.string() });

  test('names of a choice can be read, and nothing is checked, before the package is there', () => {
    expect(Shape.options).toEqual(['wide', 'tall']);
    expect(() => Thing.parse({})).toThrow('has not been fetched');
  });

  test('once it is there they check as the package does: defaults, refusals, themselves within themselves, parts of others', () => {
    z.becomes(real);
    expect(Thing.parse({ shape: 'wide' })).toEqual({ shape: 'wide', by: 'hand' });
    expect(Thing.safeParse({ shape: 'round' }).success).toBe(false);
    expect(Thing.safeParse({ shape: 'tall', side: 13 }).success).toBe(false);
    expect(Tree.parse({ name: 'a', below: [{ name: 'b', below: [] }] })).toEqual({
      name: 'a',
      below: [{ name: 'b', below: [] }],
    });
    expect(Parts.shape.corner.safeParse(0).success).toBe(false);
    expect(z.object(Parts.shape).safeParse({ corner: 2, name: 'x' }).success).toBe(true);
  });
});
