import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from 'vitest';
import { exclusionRequest, postureRequest, send } from './switch.ts';

test('what is typed is the request that it means', () => {
  expect(postureRequest(['storm-watch', 'on', '--for', '4h', '--reason', 'gale'])).toEqual({
    path: '/api/postures/storm-watch',
    body: { on: true, for: '4h', reason: 'gale' },
  });
  expect(postureRequest(['storm watch', 'off'])).toEqual({ path: '/api/postures/storm%20watch', body: { on: false } });
  expect(exclusionRequest(['rest/probes', '1-in-50', '--for', '2h'])).toEqual({
    path: '/api/exclusions/rest/probes',
    body: { keep: '1 in 50', for: '2h' },
  });
});

test.each([
  [() => postureRequest(['storm-watch', 'maybe']), /on or off/],
  [() => postureRequest(['storm-watch', 'on', '--for']), /--for is followed by nothing/],
  [() => exclusionRequest(['probes', 'none']), /rest\/probes/],
  [() => exclusionRequest(['rest/probes', '1-in-1']), /1-in-50/],
])('what cannot be meant is reported: %s', (work, message) => {
  expect(work).toThrow(message);
});

test('it is sent as a request of the application itself, and its answer shown', async () => {
  const heard: unknown[] = [];
  const server = createServer(async (request, answer) => {
    let body = '';
    for await (const piece of request) body += piece;
    heard.push([request.method, request.url, JSON.parse(body), request.headers.origin]);
    const isKnown = request.url === '/api/postures/storm-watch';
    answer.statusCode = isKnown ? 200 : 404;
    answer.end(JSON.stringify(isKnown ? { until: Date.UTC(2026, 10, 27, 18) } : { detail: 'There is none.' }));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  try {
    expect(await send(postureRequest(['storm-watch', 'on']), address)).toBe('Switched until 2026-11-27T18:00:00.000Z.');
    expect(heard).toEqual([['PUT', '/api/postures/storm-watch', { on: true }, address]]);
    await expect(send(postureRequest(['gone', 'off']), address)).rejects.toThrow('There is none.');
  } finally {
    await new Promise((resolve) => server.close(resolve));
  }
});
