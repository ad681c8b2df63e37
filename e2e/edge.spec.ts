import type { APIRequestContext, APIResponse } from '@playwright/test';
import { expect, test } from './installations/application.ts';

interface Operation {
  readonly parameters?: readonly { readonly name: string; readonly in: string }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, unknown>> };
  readonly responses: Readonly<Record<string, unknown>>;
}

const deep = (depth: number): string => '['.repeat(depth) + ']'.repeat(depth);

/** Bodies that no operation takes; as they are sent. */
const wrongBodies: readonly string[] = [
  '',
  'no json',
  'null',
  '7',
  '[]',
  '"text"',
  '{}',
  deep(50),
  deep(100_000),
  `{"plan":${'{"a":'.repeat(40_000)}1${'}'.repeat(40_000)}}`,
  '{"plan":{"plan":1,"tiers":[{"id":7,"title":[],"keep":{}}],"pipelines":{}}}',
  '{"plan":{"plan":1,"pipelines":[],"tiers":[{"id":"x","title":"X","keep":"1e308d"}]}}',
  '{"plan":[1,2,3]}',
  '{"text":"a: &a [*a]"}',
  `{"text":${JSON.stringify(Array.from({ length: 20_000 }, (_, i) => `k${i}: 1`).join('\n'))}}`,
  `{"text":${JSON.stringify('- '.repeat(90_000))}}`,
  '{"text":"\\ud800: [\\u0000"}',
  '{"name":"../../x","kind":"files","settings":{"globs":["/etc/**"]}}',
  '{"name":"reader","kind":"objects","settings":{"url":"http://169.254.169.254/"}}',
  '{"name":"reader","kind":"objects","settings":{"url":"file:///etc/"}}',
  '{"name":"\\u0000","csv":"a","kind":"http"}',
  '{"source":"gates","emitter":"x","expectedBack":1e308}',
  '{"title":"t","scope":"site = a","from":1e308,"length":"1e308d","schedule":""}',
  '{"title":"t","scope":"site =","from":-1,"length":"2h"}',
  '{"condition":"(((","from":"-1h","to":"now"}',
  '{"condition":"","from":1e308,"to":-1e308,"limit":1e9,"show":"p95("}',
  '{"condition":"a matches /(?=x)/","from":0,"to":1}',
  '{"id":1e99}',
  '{"id":-1,"identity":"x","replaces":0.5,"overlap":1e99}',
  '{"from":"yesterday-ish"}',
  '{"from":"1e999"}',
  '{"reason":7}',
  '{"tables":[{"name":"__proto__","keys":["constructor"]}],"addresses":["999.1.1.1"]}',
  `{"note":${JSON.stringify('n'.repeat(5_000))},"letGo":[{}]}`,
  '{"name":{"toString":1},"title":{"toString":1},"text":{"valueOf":null},"condition":{"toString":null}}',
  '{"text":"x","toString":1}',
  '{"name":"x","constructor":{"prototype":7}}',
  '{"__proto__":{"name":"x"},"csv":"a,b"}',
  '{"plan":{"plan":1,"pipelines":[],"tiers":[{"id":{"toString":1},"hasOwnProperty":2}]}}',
  '{"text":"plan: 1\\npipelines: []\\ntiers:\\n  - {id: {toString: 1}, title: x, keep: 1d}"}',
  '{"text":"currency: {toString: 1}\\nprices: {__proto__: []}"}',
];

const wrongParts = ['%ff', '%00', '..%2f..%2fetc', 'x'.repeat(3_000), '__proto__', '-1', '1e99', '%F0%9F%9A%A2'];
const wrongQueries = [
  'from=%ff',
  'from=1e999&to=-1e999',
  'every=-1h&by=source',
  'every=1e308d',
  'source=%00',
  'limit=1e99',
  'days=NaN',
  'source=a&source=b',
  `source=${'x'.repeat(5_000)}`,
  'toString=1',
  '__proto__=1&constructor=2',
  'tier=__proto__&keep=7d',
  'by=source;drop&every=1ns&figure=__proto__',
];

function pathsOf(path: string): readonly string[] {
  if (!path.includes('{')) return [path];
  return wrongParts.map((part) => path.replace(/\{\w+\}/, part));
}

async function ask(request: APIRequestContext, method: string, path: string, body?: string): Promise<APIResponse> {
  return await request.fetch(path, {
    method,
    ...(body !== undefined && { data: Buffer.from(body), headers: { 'content-type': 'application/json' } }),
    timeout: 30_000,
  });
}

test('whatever is asked wrongly of any route is answered, never with a failure of ours', async ({ request }) => {
  test.setTimeout(300_000);
  const { paths } = await (await request.get('/api/openapi.json')).json();
  let asked = 0;
  const faults: string[] = [];
  const look = async (method: string, path: string, body?: string): Promise<void> => {
    asked++;
    const answer = await ask(request, method.toUpperCase(), path, body);
    const text = await answer.text();
    const said = `${method} ${path.slice(0, 60)} ${(body ?? '').slice(0, 60)} → ${answer.status()} ${text.slice(0, 160)}`;
    if (answer.status() >= 500) faults.push(said);
    if (answer.status() >= 400 && !/problem\+json/.test(answer.headers()['content-type'] ?? '')) faults.push(said);
  };
  const questions: (readonly [method: string, path: string, body?: string])[] = [];
  for (const [path, methods] of Object.entries(paths as Record<string, Record<string, Operation>>)) {
    for (const [method, operation] of Object.entries(methods)) {
      // A stream has no end to be waited for.
      if (JSON.stringify(operation.responses).includes('text/event-stream')) continue;
      // What takes no body and no name would be done, not refused.
      const isPlain = !operation.requestBody && !path.includes('{');
      for (const each of pathsOf(path)) {
        if (!isPlain || method === 'get')
          questions.push(operation.requestBody ? [method, each, '{"x":'] : [method, each]);
      }
      const [somewhere = path] = [path.replace('{name}', 'no-such-source').replace(/\{\w+\}/, '999999999')];
      if (method === 'get') for (const query of wrongQueries) questions.push([method, `${somewhere}?${query}`]);
      if (operation.requestBody) for (const body of wrongBodies) questions.push([method, somewhere, body]);
    }
  }
  for (const method of ['TRACE', 'PATCH', 'OPTIONS']) questions.push([method, '/api/plan']);
  // Several at a time, as from several who know no better.
  const lane = async (): Promise<void> => {
    for (let next = questions.shift(); next; next = questions.shift()) await look(...next);
  };
  await Promise.all(Array.from({ length: 6 }, lane));
  expect(faults).toEqual([]);
  expect(asked).toBeGreaterThan(800);
  // The store has what it had: nothing of all this was taken.
  await request.delete('/api/plan/draft');
  expect((await request.get('/api/plan')).status()).toBe(200);
});

test('what changes something has to come from the application and to be JSON', async ({ playwright, baseURL }) => {
  const bare = await playwright.request.newContext({ baseURL: baseURL ?? '' });
  const put = (headers: Record<string, string>) => bare.put('/api/plan/draft', { headers, data: '{}' });
  expect((await put({})).status()).toBe(403);
  expect((await put({ origin: 'http://elsewhere.example' })).status()).toBe(403);
  expect((await put({ origin: baseURL ?? '', 'sec-fetch-site': 'cross-site' })).status()).toBe(403);
  expect((await put({ origin: baseURL ?? '', 'content-type': 'text/plain' })).status()).toBe(415);
  const answer = await put({ origin: baseURL ?? '', 'content-type': 'application/json' });
  expect(answer.status()).toBe(400);
  expect((await answer.json()).problems[0].path).toBe('plan');
  await bare.dispose();
});

test('what is not there is refused with what is known, and nothing is answered in its place', async ({ request }) => {
  const refusals = [
    ['DELETE', '/api/tables', 404, 'no table not-there'],
    ['DELETE', '/api/fleets', 404, 'no fleet not-there'],
    ['DELETE', '/api/searches', 404, 'saved as not-there'],
    ['GET', '/api/costs/retention?tier=__proto__&keep=7d', 404, 'no tier __proto__'],
    ['GET', '/api/volume?by=source;drop', 400, 'is no key: source, outcome, tier, rule, parsed'],
    ['GET', '/api/volume?every=1ns', 400, 'at least a minute'],
    ['GET', '/api/metrics/booking-took?figure=__proto__', 400, 'has no figure __proto__'],
  ] as const;
  for (const [method, path, status, detail] of refusals) {
    const answer = await request.fetch(path, { method, ...(method === 'DELETE' && { data: { name: 'not-there' } }) });
    expect([path, answer.status(), (await answer.json()).detail]).toEqual([
      path,
      status,
      expect.stringContaining(detail),
    ]);
  }
});
