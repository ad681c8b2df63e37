import { useRoom } from '../../../kit/use-room.ts';

/** Least height of a list of lines, and what of the window is above and below it (pixels). */
const least = 520;
const beside = 360;

/** How high a list of lines is, in pixels: as the window has room. */
export function useListHeight(): number {
  return useRoom(beside, least);
}
