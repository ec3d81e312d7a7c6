import * as z from 'zod';
import { ErrorBody } from './errors.ts';
import { type Route, routes } from './routes.ts';

/** The contract as OpenAPI 3.1. */
export function openApi(version: string): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, r] of Object.entries(routes) as [string, Route][]) {
    const path = r.path.replace(/:(\w+)/g, '{$1}');
    const named = (schema: z.ZodType, where: string) =>
      Object.entries(
        (z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }).properties ?? {}) as object,
      ).map(([key, shape]) => ({ name: key, in: where, required: true, schema: shape }));
    const json = (schema: z.ZodType, io: 'input' | 'output') => {
      const { $schema: _, ...shape } = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
      return { 'application/json': { schema: shape } };
    };
    const body =
      r.takes === 'file'
        ? {
            'multipart/form-data': {
              schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } },
            },
          }
        : json(r.body, 'input');
    paths[path] ??= {};
    paths[path][r.method.toLowerCase()] = {
      operationId: name,
      summary: r.summary,
      'x-who': r.who,
      parameters: [...named(r.params, 'path'), ...named(r.query, 'query')],
      ...(r.method === 'GET' || r.method === 'DELETE' ? {} : { requestBody: { content: body } }),
      responses: {
        200: {
          description: 'Done',
          content:
            r.sends === 'bytes'
              ? { 'application/pdf': { schema: { type: 'string', format: 'binary' } } }
              : json(r.reply, 'output'),
        },
        default: { description: 'A code and its facts', content: json(ErrorBody, 'output') },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Jotmark', version }, paths };
}
