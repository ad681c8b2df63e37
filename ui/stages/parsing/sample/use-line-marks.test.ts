import { expect, test } from 'vitest';
import { templateOf } from './use-line-marks.ts';

const texts = ['gate 4 open in 12 ms', 'gate 7 open in 9 ms', 'gate 4 shut in 30 ms'];
const lines = texts.map((text, place) => ({ place, text, fits: false, pieces: [] }));
const piece = (line: string, text: string, name: string) => {
  const start = line.indexOf(text);
  return { start, end: start + text.length, name };
};

test('a template takes the pieces that are marked on a line', () => {
  const marks = new Map([[0, [piece(texts[0] as string, '4', 'gate'), piece(texts[0] as string, '12', 'took')]]]);
  expect(templateOf({ lines }, marks)).toMatch(/^gate \{gate(:int)?\} .*in \{took(:int)?\} ms$/);
});

test('a line on which fewer pieces are marked waits until it has them all', () => {
  const first = [piece(texts[0] as string, '4', 'gate'), piece(texts[0] as string, '12', 'took')];
  const alone = templateOf({ lines }, new Map([[0, first]]));
  const both = new Map([
    [0, first],
    [2, [piece(texts[2] as string, '4', 'gate')]],
  ]);
  expect(templateOf({ lines }, both)).toBe(alone);
});
