import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { decode, encode } from '../events/text-table.ts';
import { maskBatch } from '../steps/mask-batch.ts';
import { batchOf } from '../testing/batch-of.ts';
import { hasCheckDigit } from './card.ts';
import { detectors } from './index.ts';
import { keyedHash, trialHash } from './keyed-hash.ts';
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

describe('values are looked through as they read', () => {
  const remove = (find: string) => ({ find, with: 'remove' }) as const;

  test('an escape hides nothing in a text that is JSON', () => {
    expect(
      JSON.parse(masked(remove('email'), '{"to":"mara\\u0040post.skerry.example","n":[1,"x@y.skerry.example"]}')),
    ).toEqual({
      to: '•••',
      n: [1, '•••'],
    });
    expect(masked(remove('token'), '{"token":"abc\\/def\\/ghi-0123"}')).toBe('{"token":"•••"}');
    expect(masked(remove('token'), 'sent {"token":"abc\\"def-0123456789"} on')).toBe('sent {"token":"•••"} on');
    expect(masked({ after: 'pin=', with: 'remove' }, 'pin=12\\"34 x')).toBe('pin=••• x');
  });

  test('a field whose name says what it is is masked whole', () => {
    const { ofField } = compileMasks([remove('token')], trialHash);
    const value = encode('x/y z');
    for (const name of ['token', 'auth.access_token', 'Password'])
      expect(ofField(name)(value, 0, value.length)).toEqual(encode('•••'));
    expect(ofField('tokens')(value, 0, value.length)).toBeUndefined();
    // What was masked before stays as it is.
    const hashed = encode('#0123456789abcdef');
    expect(ofField('token')(hashed, 0, hashed.length)).toBeUndefined();
  });

  test('emitters, bodies and fields of a batch', () => {
    const batch = batchOf([{ host: '192.0.2.7', msg: 'from 192.0.2.7', peer: '192.0.2.9', port: 443 }]);
    const { emitter, body, attributes } = eventAt(maskBatch(batch, compileMasks([remove('ip')], trialHash)), 0);
    expect({ emitter, body, attributes }).toEqual({
      emitter: '•••',
      body: 'from •••',
      attributes: { peer: '•••', port: 443 },
    });
  });

  test('a hash depends on the key of the installation (RFC 4231, test case 2)', () => {
    const text = encode('what do ya want for nothing?');
    expect(keyedHash(encode('Jefe'))(text, 0, text.length)).toBe('5bdcc146bf60754e');
    expect(trialHash(text, 0, text.length)).not.toBe('5bdcc146bf60754e');
  });
});
