import { deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { encodeHeader } from '#core/segments/header.ts';
import { openHeader } from './open-header.ts';

test('a header is read whether it is packed or not', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.string({ minLength: 1, maxLength: 30 }), { maxLength: 60 }), (names) => {
      const parts = new Map(names.map((name, number) => [`text:${name}`, number + 1]));
      const header = encodeHeader({ parts });
      for (const data of [header, ...[1, 5, 9].map((level) => deflateRawSync(header, { level }))])
        expect([...openHeader(data).parts].sort()).toEqual([...parts].sort());
    }),
  );
});
