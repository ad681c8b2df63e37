import { leaseNames } from '../cluster/leases.ts';
import type { EngineServices } from '../services/engine-services.ts';

/** The leases for reading the sources of a kind: each is read by one engine. */
export function readingLeases({ directory }: EngineServices, kind: 'files' | 'objects'): readonly string[] {
  return directory.sourcesOfKind(kind).map(({ name }) => leaseNames.reading(name));
}
