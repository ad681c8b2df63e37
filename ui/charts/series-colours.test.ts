import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { seriesColours } from './series-colours.ts';

type Colour = readonly [number, number, number];

/** What people see who lack a kind of cone: linear RGB to linear RGB (Machado, Oliveira, Fernandes 2009, severity 1). */
const visions: Readonly<Record<string, readonly Colour[]>> = {
  most: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritanopia: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
};

function linear(hex: string): Colour {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const value = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  });
  return [r ?? 0, g ?? 0, b ?? 0];
}

function seen(matrix: readonly Colour[], [r, g, b]: Colour): Colour {
  const [x, y, z] = matrix.map((row) => Math.max(0, Math.min(1, row[0] * r + row[1] * g + row[2] * b)));
  return [x ?? 0, y ?? 0, z ?? 0];
}

/** OKLab (Ottosson 2020): how far two colours are apart there is how different they look. */
function lab([r, g, b]: Colour): Colour {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

function luminance([r, g, b]: Colour): number {
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

const papers = [...readFileSync('app/globals.css', 'utf8').matchAll(/--paper: (#\w{6})/g)].map(([, hex]) => hex ?? '');

describe.each([
  ['day', papers[0] ?? ''],
  ['night', papers[1] ?? ''],
] as const)('by %s', (theme, paper) => {
  const colours = seriesColours[theme];

  test.each(Object.keys(visions))('ten colours are apart for people with the sight of %s', (vision) => {
    const looks = colours.map((hex) => lab(seen(visions[vision] ?? [], linear(hex))));
    const apart = looks.flatMap((a, i) =>
      looks.slice(0, i).map((b) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])),
    );
    // What can just be told apart side by side is about 0.02.
    expect(Math.min(...apart)).toBeGreaterThan(0.085);
  });

  test('each stands out from the paper', () => {
    for (const hex of colours) {
      const [dark, light] = [luminance(linear(hex)), luminance(linear(paper))].sort((a, b) => a - b);
      expect(((light ?? 0) + 0.05) / ((dark ?? 0) + 0.05)).toBeGreaterThan(3);
    }
  });
});
