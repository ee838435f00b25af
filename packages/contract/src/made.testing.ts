import { Question } from '@gemmel/core';
import { z } from 'zod';

/** A piece of JSON Schema, as far as the contract's schemas are told in it. */
interface Told {
  $ref?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Told[];
  oneOf?: Told[];
  allOf?: Told[];
  type?: string | string[];
  properties?: Record<string, Told>;
  required?: string[];
  additionalProperties?: boolean | Told;
  propertyNames?: Told;
  items?: Told | boolean;
  prefixItems?: Told[];
  minItems?: number;
  maxItems?: number;
  minLength?: number;
  maxLength?: number;
  pattern?: string;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  exclusiveMaximum?: number;
  $defs?: Record<string, Told>;
}

/** What people and programs write: words, days, colours, addresses, and what is none of it. */
const TEXTS = [
  'kites',
  'Åsa & Öberg',
  '%_\\',
  "'; --",
  '🪁',
  'e\u0301',
  ' x ',
  '2026-05-16',
  '2026-05',
  '2026',
  '1988-22',
  '196X',
  '2026-02-30',
  '2026-05-16T12:00:00',
  '2026-05-16T12:00:00Z',
  '12:30',
  '#1c5a50',
  'Europe/Stockholm',
  'en',
  'somebody@kin.example',
  'https://pictures.example',
  'a-long-password',
  '../../etc/passwd',
  '00'.repeat(32),
  '1',
  '7',
  'a0',
  '837270',
  'IMG_0001.JPG',
];
const NUMBERS = [0, 1, 2, 3, 5, 7, 8, 12, 100, 1000, -1, -7, 0.5, 57.64, 18.29, 1e9];

const QUESTION = z.toJSONSchema(Question, { io: 'output', unrepresentable: 'any' }) as Told;

/** Makes what a schema takes, by chance: small trees, and numbers of things that are there. */
export class Maker {
  constructor(
    private readonly random: () => number,
    /** Numbers of pictures and of other things that there are. */
    private readonly ids: readonly number[],
    /** What is meant by some names, where a schema takes any text or number. */
    private readonly named: Readonly<Record<string, readonly unknown[]>> = {},
  ) {}

  /** Something a schema takes, or gives as an answer; undefined when none was found soon. */
  of(schema: z.ZodType, io: 'input' | 'output' = 'input'): unknown {
    const told = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Told;
    for (let i = 0; i < 60; i++) {
      const made = this.make(told, told.$defs ?? {}, 0, '');
      if (schema.safeParse(made).success) return made;
    }
    return undefined;
  }

  private pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.random() * from.length)]!;
  }

  private between(least: number, most: number): number {
    return least + Math.floor(this.random() * (most - least + 1));
  }

  private make(told: Told, defs: Record<string, Told>, depth: number, name: string): unknown {
    if (told.$ref) {
      const of = told.$ref.split('/').pop()!;
      // What goes in as a question is told as anything; what comes out of its checks is told in full.
      const inFull = of === 'Question' ? QUESTION.$defs! : defs;
      return this.make(inFull[of] ?? {}, inFull, depth + 1, name);
    }
    if ('const' in told) return told.const;
    if (told.enum) return this.pick(told.enum);
    const some = told.anyOf ?? told.oneOf;
    if (some) {
      // Deep down, what ends soonest.
      const flat = some.filter(({ type, $ref }) => type !== 'object' && type !== 'array' && !$ref);
      return this.make(this.pick(depth > 4 && flat.length ? flat : some), defs, depth + 1, name);
    }
    if (told.allOf)
      return Object.assign(
        {},
        ...(told.allOf.map((one) => this.make(one, defs, depth + 1, name)) as object[]),
      ) as unknown;
    if (Array.isArray(told.type)) return this.make({ ...told, type: this.pick(told.type) }, defs, depth, name);
    const meant = this.named[name];
    if (meant && told.type !== 'object' && told.type !== 'array') {
      const type = told.type === 'integer' ? 'number' : told.type;
      const fits = meant.filter((one) => type === undefined || typeof one === type);
      if (fits.length) return this.pick(fits);
    }
    switch (told.type) {
      case 'object':
        return this.object(told, defs, depth);
      case 'array':
        return this.array(told, defs, depth, name);
      case 'string':
        return this.text(told);
      case 'integer':
      case 'number':
        return this.number(told, name);
      case 'boolean':
        return this.random() < 0.5;
      case 'null':
        return null;
      default:
        return this.pick([null, 1, 'x']);
    }
  }

  private object(told: Told, defs: Record<string, Told>, depth: number): unknown {
    const made: Record<string, unknown> = {};
    for (const [key, value] of Object.entries(told.properties ?? {}))
      if (told.required?.includes(key) || this.random() < 0.4) made[key] = this.make(value, defs, depth + 1, key);
    if (!told.properties && typeof told.additionalProperties === 'object')
      for (let i = this.between(0, 2); i > 0; i--)
        made[String(told.propertyNames ? this.make(told.propertyNames, defs, depth + 1, 'id') : this.pick(this.ids))] =
          this.make(told.additionalProperties, defs, depth + 1, '');
    return made;
  }

  private array(told: Told, defs: Record<string, Told>, depth: number, name: string): unknown {
    if (told.prefixItems) return told.prefixItems.map((one) => this.make(one, defs, depth + 1, name));
    const least = told.minItems ?? 0;
    const most = Math.min(told.maxItems ?? 3, least + (depth > 4 ? 0 : 3));
    const items = typeof told.items === 'object' ? told.items : {};
    return Array.from({ length: this.between(least, most) }, () => this.make(items, defs, depth + 1, name));
  }

  private text({ minLength = 0, maxLength = Infinity, pattern = '' }: Told): string {
    const like = new RegExp(pattern, 'u');
    const fits = TEXTS.filter((one) => one.length >= minLength && one.length <= maxLength && like.test(one));
    return fits.length ? this.pick(fits) : 'x'.repeat(minLength);
  }

  private number(told: Told, name: string): number {
    const least = told.minimum ?? (told.exclusiveMinimum === undefined ? -Infinity : told.exclusiveMinimum + 1e-6);
    const most = told.maximum ?? (told.exclusiveMaximum === undefined ? Infinity : told.exclusiveMaximum - 1e-6);
    // Most whole numbers that may be as large as they like are names of things.
    if (told.type === 'integer' && most > 1e6 && this.random() < 0.85) return this.pick(this.ids);
    const fits = NUMBERS.filter(
      (one) => one >= least && one <= most && (told.type === 'number' || Number.isInteger(one)),
    );
    if (fits.length && this.random() < 0.7) return this.pick(fits);
    const [from, to] = [Math.max(least, -1000), Math.min(most, 1000)];
    const any = from + this.random() * (to - from);
    return told.type === 'integer' || name === 'id' ? Math.round(any) : any;
  }
}
