import type { Source } from '#store/sources.ts';
import type { Delivery } from './delivery.ts';
import { filesAgain } from './files.ts';
import { objectsAgain } from './objects.ts';
import type { Senders } from './senders.ts';

/** What reading a source from its start would deliver, one delivery after the other; undefined for one that is sent to us. */
export function readAgain(senders: Senders, source: Source): AsyncIterable<Delivery> | undefined {
  if (source.kind === 'files') return filesAgain(senders, source);
  if (source.kind === 'objects') return objectsAgain(senders, source);
  return undefined;
}
