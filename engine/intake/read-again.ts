import type { Source } from '#store/sources/sources.ts';
import type { Delivery } from '../deliveries/delivery.ts';
import type { SourceBounds } from '../sources/source-bounds.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import { filesAgain } from './files/follow.ts';
import { objectsAgain } from './objects/pick-up.ts';

/** What reading a source from its start would deliver, one delivery after the other; undefined for one that is sent to us. */
export function readAgain(
  directory: SourceDirectory,
  source: Source,
  bounds: SourceBounds,
): AsyncIterable<Delivery> | undefined {
  if (source.kind === 'files') return filesAgain(directory, source, bounds);
  if (source.kind === 'objects') return objectsAgain(directory, source, bounds);
  return undefined;
}
