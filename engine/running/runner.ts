import type { Service } from '../base/service.ts';
import type { EngineServices } from '../services/engine-services.ts';

/** Something that an engine runs from its start to its end. */
export interface Runner {
  readonly name: string;
  /** The names of the leases that it wants; asked for again at each look. */
  readonly leases?: (services: EngineServices) => readonly string[];
  /** Starts it; what is returned says how it is stopped. */
  readonly start: (services: EngineServices) => Promise<Stopping> | Stopping;
}

/** How something that runs is stopped: as one service, or as several that were started one after the other. */
export type Stopping = Omit<Service, 'name'> | readonly Service[];
