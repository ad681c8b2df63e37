import type { PartKey, PlacedItem } from '#core/plan/parts/part.ts';
import { partScreens } from './index.ts';
import type { PartScreen } from './part-screen.ts';

/** The address of the page on which a thing of the plan can be edited, with the place open that is meant. */
export function placeLink(item: PlacedItem): string {
  return screenOf(item.part).form(item);
}

/** The address of the page with a thing of the plan open. */
export function pageOf(part: PartKey, id: string): string {
  return screenOf(part).page(id);
}

function screenOf(part: PartKey): PartScreen {
  const screen = partScreens.find(({ key }) => key === part);
  if (!screen) throw new Error(`No screen shows the part ${part}.`);
  return screen;
}
