import { expect, test } from 'vitest';
import { readAddress } from './address.ts';

test.each([
  ['192.0.2.1', '192.0.2.1'],
  [' 203.0.113.255 ', '203.0.113.255'],
  ['2001:DB8:0:0:0:0:0:1', '2001:db8::1'],
  ['::1', '::1'],
])('%s is the address %s', (text, address) => {
  expect(readAddress(text)).toBe(address);
});

test.each(['192.0.2.256', '192.0.2', '08:00:10', '2001:db8:::1', 'fe80', '1.2.3.4.5', 'pier-4', ''])(
  '%j is none',
  (text) => {
    expect(readAddress(text)).toBeUndefined();
  },
);
