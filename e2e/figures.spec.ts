import { expect, test } from './installations/application.ts';
import { disagreements, figuresOf, type ShownFigure } from './pages/figures.ts';

const screens = [
  ...['/', '/sources', '/sources/gates', '/sources/berth-planner', '/parsing', '/parsing?view=fields', '/routing'],
  ...['/metrics', '/metrics/talkers', '/explore?w=-2h', '/explore?w=-24h&view=shapes', '/costs', '/changes'],
];

test('a name is one figure over one window on all screens', async ({ page }) => {
  test.setTimeout(180_000);
  const figures: ShownFigure[] = [];
  for (const screen of screens) figures.push(...(await figuresOf(page, screen)));
  // Two values of one name and window are found, by what they are beyond.
  const two = figures
    .filter(({ name }) => name === 'parsed')
    .slice(0, 2)
    .map((figure, i) => ({ ...figure, value: 0.9 + i / 20 }));
  expect(disagreements(two, 0.02)).toHaveLength(1);
  const named = (name: string): number => figures.filter((figure) => figure.name === name).length;
  // The line of the stages has them on each screen, sentences beside it.
  expect([named('parsed') > 14, named('kept') > 14, named('received') > 4, named('cost') > 13]).toEqual(
    Array(4).fill(true),
  );
  // Tables have their figures too, of each source.
  const sources = new Set(figures.flatMap(({ key }) => /^received \| (source \S+)/.exec(key)?.[1] ?? []));
  expect(sources.size).toBeGreaterThan(10);
  // Events go on arriving while the screens are read; of what came in the last minute few make a difference.
  expect(disagreements(figures, 0.02, { rate: 0.7 })).toEqual([]);
});
