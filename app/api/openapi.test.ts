import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { operations } from '#core/operations/index.ts';
import { answerSchemas as readSchemas } from '../../scripts/answers.mjs';
import answerSchemas from '../_server/answer-schemas.json' with { type: 'json' };
import * as description from './openapi.json/route.ts';

const { paths, components } = await description.GET().json();

/** Addresses that have a route of their own: `GET /api/openapi.json`. */
const ownRoutes = readdirSync('app/api', { recursive: true, encoding: 'utf8' }).flatMap((file) => {
  if (!file.endsWith('/route.ts') || file.startsWith('[')) return [];
  const path = `/api/${file.slice(0, -'/route.ts'.length)}`;
  return [
    ...readFileSync(`app/api/${file}`, 'utf8').matchAll(
      /export (?:async function|function|const) (GET|POST|PUT|DELETE)\b/g,
    ),
  ].map(([, method]) => `${method} ${path}`);
});

describe('the description of the API', () => {
  test('has everything that is answered, and nothing else', () => {
    const described = Object.keys(paths).flatMap((path) =>
      Object.keys(paths[path]).map((method) => `${method.toUpperCase()} ${path}`),
    );
    const declared = Object.values(operations).map(({ method, path }) => `${method} ${path}`);
    expect(described.sort()).toEqual([...new Set([...declared, ...ownRoutes])].sort());
    expect(described.length).toBeGreaterThan(40);
  });

  test('says what a request holds, with its limits', () => {
    expect(paths['/api/sources'].post).toMatchObject({
      requestBody: {
        content: {
          'application/json': {
            schema: {
              required: ['name', 'kind'],
              properties: {
                name: { type: 'string', pattern: '^[a-z0-9][a-z0-9-]{0,62}$' },
                kind: { enum: ['http', 'otlp', 'syslog', 'files', 'objects', 'upload'] },
                format: { default: 'auto' },
                labels: { additionalProperties: { type: 'string' } },
              },
            },
          },
        },
      },
      responses: { 201: expect.anything(), default: expect.anything() },
    });
  });

  test('says what is answered, by types that are all there and as they are', async () => {
    expect(paths['/api/routing/caps'].get.responses[200].content['application/json'].schema).toEqual({
      $ref: '#/components/schemas/CapsAnswer',
    });
    expect(paths['/api/arrivals'].get.responses[200].content['text/event-stream'].schema).toBeDefined();
    const reported = JSON.stringify({ paths, schemas: components.schemas });
    for (const [, name = ''] of reported.matchAll(/"#\/components\/schemas\/([^"]+)"/g))
      expect(Object.keys(components.schemas)).toContain(name);
    // `npm run answers` writes them anew.
    expect(answerSchemas).toEqual(await readSchemas());
  });

  test('names what is in the path and in the query', () => {
    expect(paths['/api/sources/{name}/upload'].post.parameters).toEqual([
      { name: 'name', in: 'path', required: true, schema: { type: 'string', minLength: 1, maxLength: 5_000 } },
      { name: 'file', in: 'query', required: false, schema: { type: 'string', default: '' } },
    ]);
  });
});
