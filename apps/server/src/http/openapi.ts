import { api, fileRoutes, Problem, type Endpoint } from '@gemmel/contract';
import { z } from 'zod';
import { COOKIE, TOKEN } from './guard';

type Json = Record<string, unknown>;
interface Named {
  [name: string]: unknown;
}

/** The name of the way a request shows who is asking. */
const SESSION = 'session';

/** A schema with its references leading to the document's own components, where what it defines within itself is put. */
function schemaOf(type: z.ZodType, io: 'input' | 'output', components: Named): Json {
  const { $schema: _, $defs, ...rest } = z.toJSONSchema(type, { io, unrepresentable: 'any', reused: 'inline' }) as Json;
  const leading = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(leading);
    if (!value || typeof value !== 'object') return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, one]) => [
        key,
        key === '$ref' && typeof one === 'string' ? one.replace('#/$defs/', '#/components/schemas/') : leading(one),
      ]),
    );
  };
  for (const [name, one] of Object.entries(($defs as Named | undefined) ?? {})) components[name] = leading(one);
  return leading(rest) as Json;
}

const pathOf = (path: string) => path.replace(/:(\w+)/g, '{$1}');

/** What stands in the path, what may stand behind it, and what has to go with everything that changes something. */
function parametersOf(e: { path: string; method: string; part: string; query?: z.ZodType }, components: Named): Json[] {
  const inPath = [...e.path.matchAll(/:(\w+)/g)].map((m) => ({
    name: m[1],
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const query = e.query ? schemaOf(e.query, 'input', components) : {};
  const required = new Set((query['required'] as string[] | undefined) ?? []);
  const asked = Object.entries((query['properties'] as Record<string, Json> | undefined) ?? {}).map(
    ([name, schema]) => ({ name, in: 'query', required: required.has(name), schema }),
  );
  const changes = e.method !== 'GET' && e.part !== 'nobody';
  return [...inPath, ...asked, ...(changes ? [{ $ref: '#/components/parameters/Token' }] : [])];
}

const problem = {
  description: 'An error in plain words',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};
const securityOf = (part: string) => (part === 'nobody' ? [] : [{ [SESSION]: [] }]);

/** The OpenAPI 3.1 description of all routes, made from the same table the server and the client use. */
export function openApi(): Json {
  const paths: Record<string, Json> = {};
  const schemas: Named = {};
  schemas['Problem'] = schemaOf(Problem, 'output', schemas);
  for (const [operationId, e] of Object.entries(api) as [string, Endpoint][])
    (paths[pathOf(e.path)] ??= {})[e.method.toLowerCase()] = {
      operationId,
      summary: e.summary,
      'x-part': e.part,
      security: securityOf(e.part),
      parameters: parametersOf(e, schemas),
      ...(e.body
        ? {
            requestBody: {
              required: true,
              content: { 'application/json': { schema: schemaOf(e.body, 'input', schemas) } },
            },
          }
        : {}),
      responses: {
        200: {
          description: 'Done',
          content: { 'application/json': { schema: schemaOf(e.answer, 'output', schemas) } },
        },
        default: problem,
      },
    };
  for (const r of fileRoutes)
    (paths[pathOf(r.path)] ??= {})[r.method.toLowerCase()] = {
      summary: r.summary,
      'x-part': r.part,
      security: securityOf(r.part),
      parameters: parametersOf(r, schemas),
      responses: { 200: { description: 'The bytes' }, default: problem },
    };
  return {
    openapi: '3.1.0',
    info: {
      title: 'Gemmel',
      version: '1',
      description:
        'The interface between Gemmel’s server and whatever shows its pictures. Sign in with POST /api/sign-in: the cookie it sets goes with every request, the token it answers with in the header x-gemmel-token of every request that changes something.',
    },
    servers: [{ url: '/', description: 'The Gemmel this came from' }],
    security: securityOf('relative'),
    paths,
    components: {
      schemas,
      parameters: {
        Token: {
          name: TOKEN,
          in: 'header',
          required: true,
          description: 'The token that POST /api/sign-in or GET /api/me answered with in this session',
          schema: { type: 'string' },
        },
      },
      securitySchemes: {
        [SESSION]: { type: 'apiKey', in: 'cookie', name: COOKIE, description: 'The cookie that signing in sets' },
      },
    },
  };
}
