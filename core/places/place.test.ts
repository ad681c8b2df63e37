import fc from 'fast-check';
import { expect, test } from 'vitest';
import { formatPlace, parsePlace } from './place.ts';

test.each([
  ['58.96,-3.29', 58.96, -3.29],
  [' 58.96 ; -3.29 ', 58.96, -3.29],
  ['+58 -3', 58, -3],
  ['90,180', 90, 180],
])('%j is read', (text, latitude, longitude) => {
  expect(parsePlace(text)).toEqual({ latitude, longitude });
});

test.each(['', '58.96', '91,0', '0,181', 'north,west', '1,2,3', '58.96,-3.29x'])('%j is no place', (text) => {
  expect(parsePlace(text)).toBeUndefined();
});

test('what is written is read again, to about a metre', () => {
  const degrees = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
  fc.assert(
    fc.property(degrees(90), degrees(180), (latitude, longitude) => {
      const read = parsePlace(formatPlace(latitude, longitude));
      expect(read?.latitude).toBeCloseTo(latitude, 4);
      expect(read?.longitude).toBeCloseTo(longitude, 4);
    }),
  );
});
