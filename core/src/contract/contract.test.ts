import { describe, expect, test } from 'vitest';
import { ErrorCode, STATUS_OF } from './errors.ts';
import { openApi } from './openapi.ts';
import { type Route, routes } from './routes.ts';

describe('the contract', () => {
  test('has each address and method once', () => {
    const all = Object.values(routes).map((r) => `${r.method} ${r.path}`);
    expect(new Set(all).size).toBe(all.length);
  });

  test('names in its parameters exactly what stands in the address', () => {
    for (const [name, r] of Object.entries(routes) as [string, Route][]) {
      const inPath = [...r.path.matchAll(/:(\w+)/g)].map((m) => m[1]);
      expect(Object.keys((r.params as unknown as { shape: object }).shape), name).toEqual(inPath);
    }
  });

  test('gives every error code a status', () => {
    expect(Object.keys(STATUS_OF).sort()).toEqual([...ErrorCode.options].sort());
    for (const status of Object.values(STATUS_OF)) expect(status).toBeGreaterThanOrEqual(400);
  });

  test('as OpenAPI has a description, parameters and answers for each', () => {
    const doc = openApi('1') as {
      openapi: string;
      paths: Record<
        string,
        Record<string, { summary: string; parameters: { name: string; in: string }[]; responses: object }>
      >;
    };
    expect(doc.openapi).toBe('3.1.0');
    const change = doc.paths['/api/hand-ins/{handInId}/changes']!;
    expect(Object.keys(change).sort()).toEqual(['get', 'post']);
    expect(change.get!.parameters.map((p) => [p.name, p.in])).toEqual([
      ['handInId', 'path'],
      ['after', 'query'],
    ]);
    for (const methods of Object.values(doc.paths))
      for (const o of Object.values(methods)) expect(o.summary.length).toBeGreaterThan(5);
  });
});
