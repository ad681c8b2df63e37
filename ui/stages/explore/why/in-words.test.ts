import { expect, test } from 'vitest';
import { figureInWords, ratioInWords, shareInWords, whereInWords } from './in-words.ts';

test.each([
  [null, 'new'],
  [0, 'gone'],
  [98.3, '98 ×'],
  [8.14, '8.1 ×'],
  [1.25, '+ 25 %'],
  [0.6, '− 40 %'],
])('shows a ratio of %s as %s', (ratio, words) => {
  expect(ratioInWords(ratio)).toBe(words);
});

test('shows figures in their unit', () => {
  expect(figureInWords(36_457.99999, { unit: 'count' })).toBe('36,458');
  expect(figureInWords(38_900_000, { unit: 'size' })).toBe('38.9 MB');
  expect(figureInWords(0.0123, { unit: 'share' })).toBe('1.2 %');
  expect(figureInWords(null, { unit: 'share' })).toBe('–');
  expect(figureInWords(0.25, { unit: 'duration' })).toBe('250 ms');
  expect(figureInWords(123.4, { unit: 'coins', currency: { sign: 'cr', digits: 2 } })).toBe('cr\u00a01.23');
});

test('shows the confidence interval of a share unless it is tiny', () => {
  expect(shareInWords({ share: 0.961, band: 0.021 })).toBe('96 ± 2 %');
  expect(shareInWords({ share: 1, band: 0.001 })).toBe('100 %');
  expect(shareInWords({ share: -0.43, band: 0 })).toBe('−43 %');
});

test('shows values as in a condition', () => {
  const where = [
    { field: 'client', value: 'harbour-partner' },
    { field: 'path', value: '/timetable' },
  ];
  expect(whereInWords({ where })).toBe('client = harbour-partner, path = /timetable');
});
