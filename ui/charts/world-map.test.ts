import { expect, test } from 'vitest';
import { inOnePiece } from './world-map.ts';

test('what goes over the 180th meridian goes on beyond it', () => {
  const ring = [
    [170, 60],
    [179, 65],
    [-175, 66],
    [-179, 62],
    [178, 61],
    [170, 60],
  ];
  const shape = inOnePiece({ type: 'MultiPolygon', coordinates: [[ring], [[[1, 1]]]] });
  expect(shape).toEqual({
    type: 'MultiPolygon',
    coordinates: [
      [
        [
          [170, 60],
          [179, 65],
          [185, 66],
          [181, 62],
          [178, 61],
          [170, 60],
        ],
      ],
      [[[1, 1]]],
    ],
  });
  expect(inOnePiece({ type: 'Point', coordinates: [1, 2] })).toEqual({ type: 'Point', coordinates: [1, 2] });
});
