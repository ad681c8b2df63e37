import { expect, test } from 'vitest';
import { atEdge } from './edge.ts';

test('a body that cannot be read becomes an answer that says so', async () => {
  const answer = await atEdge('Not read', async () => Response.json(JSON.parse('{')));
  expect(answer.status).toBe(400);
  expect(answer.headers.get('content-type')).toMatch(/problem\+json/);
  expect((await answer.json()).title).toBe('Not read');
});

test('what is our own fault is said to be that, and nothing of it gets out', async () => {
  const answer = await atEdge('Title', async () => {
    throw new TypeError('insert into secrets');
  });
  expect(answer.status).toBe(500);
  expect(await answer.text()).not.toContain('secrets');
});
