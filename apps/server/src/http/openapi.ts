import { api, fileRoutes, Problem, type Endpoint } from '@gemmel/contract';
import { z } from 'zod';

type Json = Record<string, unknown>;
const schema = (type: z.ZodType, io: 'input' | 'output'): Json => {
  const { $schema: _, ...rest } = z.toJSONSchema(type, { io, unrepresentable: 'any', reused: 'inline' }) as Json;
  return rest;
};
const pathOf = (path: string) => path.replace(/:(\w+)/g, '{$1}');
const parameters = (path: string) =>
  [...path.matchAll(/:(\w+)/g)].map((m) => ({ name: m[1], in: 'path', required: true, schema: { type: 'string' } }));
const problem = {
  description: 'An error in plain words',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

/** The OpenAPI 3.1 description of all routes, made from the same table the server and the client use. */
export function openApi(): Json {
  const paths: Record<string, Json> = {};
  for (const [operationId, e] of Object.entries(api) as [string, Endpoint][])
    (paths[pathOf(e.path)] ??= {})[e.method.toLowerCase()] = {
      operationId,
      summary: e.summary,
      'x-part': e.part,
      parameters: parameters(e.path),
      ...(e.body
        ? { requestBody: { required: true, content: { 'application/json': { schema: schema(e.body, 'input') } } } }
        : {}),
      responses: {
        200: { description: 'Done', content: { 'application/json': { schema: schema(e.answer, 'output') } } },
        default: problem,
      },
    };
  for (const r of fileRoutes)
    (paths[pathOf(r.path)] ??= {})[r.method.toLowerCase()] = {
      summary: r.summary,
      'x-part': r.part,
      parameters: parameters(r.path),
      responses: { 200: { description: 'The bytes' }, default: problem },
    };
  return {
    openapi: '3.1.0',
    info: {
      title: 'Gemmel',
      version: '1',
      description: 'The interface between Gemmel’s server and whatever shows its pictures.',
    },
    paths,
    components: { schemas: { Problem: schema(Problem, 'output') } },
  };
}
