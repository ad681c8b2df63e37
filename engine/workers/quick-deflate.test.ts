import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { expect, test } from 'vitest';
import { seededRandom } from '#core/routing/route.ts';
import { quickDeflate } from './quick-deflate.ts';

const length = 200_000;
const random = seededRandom(7);
const noise = Uint8Array.from({ length }, () => Math.floor(random() * 90));
const lines = new TextEncoder().encode('gate-p1-01 lane north shut after a storm\n'.repeat(length / 40));

test.each([
  ['noise', noise],
  ['lines', lines],
  ['lines with noise in their middle', Uint8Array.from([...lines, ...noise.subarray(0, 9_000), ...lines])],
  ['little', noise.subarray(0, 100)],
  ['nothing', new Uint8Array(0)],
])('%s: what is packed is unpacked again', (_, bytes) => {
  expect(new Uint8Array(inflateRawSync(quickDeflate(bytes)))).toEqual(new Uint8Array(bytes));
});

test('repetitions are looked for where there are any, and nothing is larger for it', () => {
  expect(quickDeflate(lines).length).toBe(deflateRawSync(lines, { level: 1 }).length);
  expect(quickDeflate(noise).length).toBeLessThanOrEqual(deflateRawSync(noise, { level: 1 }).length);
});
