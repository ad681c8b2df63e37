import { describe, expect, test } from 'vitest';
import { identityOf, recognise, writeIdentity } from './file-identity.ts';

const bytes = (text: string): Uint8Array => Buffer.from(text);
const position = (place: string, beginning: string) => ({
  source: 's',
  identity: writeIdentity(identityOf(place, bytes(beginning))),
  path: '/log/a',
  offset: 10,
  changedAt: 0,
});
const file = (path: string, place: string, beginning: string) => ({ path, place, beginning: bytes(beginning) });

describe('a file that was read before', () => {
  const known = position('1-7', 'first line\n');

  test('is known while it grows, under any name', () => {
    const grown = file('/log/a', '1-7', 'first line\nsecond\n');
    expect(recognise(grown, [known], [grown])).toEqual({ kind: 'known', position: known });
    const renamed = file('/log/a.1', '1-7', 'first line\nsecond\n');
    const fresh = file('/log/a', '1-8', 'other\n');
    expect(recognise(renamed, [known], [renamed, fresh]).kind).toBe('known');
    expect(recognise(fresh, [known], [renamed, fresh])).toEqual({ kind: 'new' });
  });

  test('is new in the same place once it was truncated, and its copy goes on for it', () => {
    const copy = file('/log/a.1', '1-9', 'first line\n');
    const still = file('/log/a', '1-7', 'first line\nmore\n');
    expect(recognise(copy, [known], [copy, still])).toEqual({ kind: 'copy' });
    const truncated = file('/log/a', '1-7', 'new begin\n');
    expect(recognise(truncated, [known], [copy, truncated])).toEqual({ kind: 'new' });
    expect(recognise(copy, [known], [copy, truncated])).toEqual({ kind: 'known', position: known });
  });

  test('is known when it was packed and the plain file is gone', () => {
    const packed = file('/log/a.1.gz', '1-12', 'first line\nsecond\n');
    expect(recognise(packed, [known], [packed]).kind).toBe('known');
  });
});
