import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { hasCheckDigit } from './card.ts';
import { detectors } from './index.ts';
import { trialHash } from './keyed-hash.ts';
import { compileMasks, type MaskRule } from './mask.ts';

function masked(rule: MaskRule, text: string): string {
  const bytes = encode(text);
  const result = compileMasks([rule], trialHash).text(bytes, 0, bytes.length);
  return result ? decode(result, 0, result.length) : text;
}

describe('card numbers', () => {
  test('only those with a right check digit are found, whatever their grouping', () => {
    const rule = { find: 'card', with: 'last-four' } as const;
    expect(masked(rule, 'card 4000001234567899 ok')).toBe('card •••7899 ok');
    expect(masked(rule, '4000-0012-3456-7899')).toBe('•••7899');
    expect(masked(rule, 'order 4000001234567890')).toBe('order 4000001234567890');
    expect(masked(rule, 'x4000001234567899')).toBe('x4000001234567899');
    expect(masked(rule, '0000000000000000')).toBe('0000000000000000');
  });

  test('the check digit is that of ISO/IEC 7812-1', () => {
    expect(hasCheckDigit([...'79927398713'].map(Number))).toBe(true);
    expect(hasCheckDigit([...'79927398710'].map(Number))).toBe(false);
  });
});

test.each([
  ['email', 'mail to mara.lind+a@post.skerry.example, now', 'mail to •••, now'],
  ['email', 'no@domain and @ alone', 'no@domain and @ alone'],
  ['token', 'Authorization: Bearer abcdefghijklmnop.q', 'Authorization: Bearer •••'],
  ['token', '{"password":"correct-horse-battery"}', '{"password":"•••"}'],
  ['token', 'token=short', 'token=short'],
  ['ip', 'from 192.0.2.7:443 to 1.2.3.4.5', 'from •••:443 to 1.2.3.4.5'],
])('%s in %s', (find, text, expected) => {
  expect(masked({ find, with: 'remove' }, text)).toBe(expected);
});

test('what follows a text is masked up to where the value ends', () => {
  expect(masked({ after: 'pin=', with: 'remove' }, 'a pin=1234 b pin=9;x')).toBe('a pin=••• b pin=•••;x');
});

test('the same value has the same hash, and a number of JSON becomes a text', () => {
  const rule = { find: 'card', with: 'hash' } as const;
  const json = masked(rule, '{"card": 4000001234567899, "again":"4000001234567899"}');
  const { card, again } = JSON.parse(json);
  expect(card).toMatch(/^#[0-9a-f]{16}$/);
  expect(card).toBe(again);
});

test('any text is gone through without harm, and nothing is found twice', () => {
  const rules = [...detectors.keys()].map((find) => ({ find, with: 'remove' }) as const);
  const mask = compileMasks(rules, trialHash).text;
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      const bytes = encode(text);
      const once = mask(bytes, 0, bytes.length) ?? bytes;
      expect(mask(once, 0, once.length)).toBeUndefined();
    }),
  );
});
