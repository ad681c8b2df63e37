import { giveUpLeases, type Lease, LeaseSightings, leaseTime, takeLeases } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import type { Log } from '../base/log.ts';
import { type Repeated, repeat } from '../base/repeat.ts';

/** Between two looks at the leases, in milliseconds: one of an engine that died is taken over within this and the lease's time. */
const lookEvery = 2_000;

/** What only one engine may do at a time; it is done by the holder of the lease of that name. */
export const leaseNames = {
  merging: 'merging',
  retention: 'retention',
  health: 'health',
  rewinds: 'rewinds',
  shapes: 'shapes',
  metrics: 'metrics',
  talkers: 'talkers',
  demo: 'demo',
  /** Reading the files or objects of a source. */
  reading: (source: string): string => `reading ${source}`,
  /** Draining the spool of a follower. */
  spool: (follower: string): string => `spool ${follower}`,
} as const;

/** The leases that this engine has and wants to have. */
export class Leases {
  private readonly wanted = new Map<string, () => readonly string[]>();
  private leases = new Map<string, { readonly lease: Lease; readonly until: number }>();
  private readonly sightings = new LeaseSightings();
  private looking: Promise<void> = Promise.resolve();

  constructor(
    private readonly database: Database,
    /** The name of this engine, which no other one has. */
    readonly engine: string,
    private readonly log: Log,
  ) {}

  /** Has leases taken from now on; `names` are asked for again at each look. */
  want(of: string, names: () => readonly string[]): void {
    this.wanted.set(of, names);
  }

  /** The lease of that name as long as this engine has it. */
  get(name: string): Lease | undefined {
    const known = this.leases.get(name);
    // A little early rather than late: another engine may take it as soon as it has run out.
    return known && known.until > performance.now() ? known.lease : undefined;
  }

  /** Does something while this engine has the lease; else does nothing. */
  async holding<Result>(name: string, work: (lease: Lease) => Promise<Result>): Promise<Result | undefined> {
    const lease = this.get(name);
    return lease && (await work(lease));
  }

  /** Takes, renews and gives up; what an engine of this name had before it was started anew is given up first. */
  async start(): Promise<Repeated> {
    await giveUpLeases(this.database, this.engine);
    await this.look();
    const looks = repeat(lookEvery, this.log, () => this.look());
    return {
      stop: async () => {
        await looks.stop();
        await this.looking;
      },
    };
  }

  /** Looks again at once, such as when there is a new source. */
  look(): Promise<void> {
    this.looking = this.looking.catch(() => {}).then(() => this.lookOnce());
    return this.looking;
  }

  /** Gives up all that this engine has. */
  async giveUp(): Promise<void> {
    this.leases.clear();
    await giveUpLeases(this.database, this.engine);
  }

  private async lookOnce(): Promise<void> {
    const asked = performance.now();
    const names = [...this.wanted.values()].flatMap((list) => list());
    const unwanted = [...this.leases.keys()].filter((name) => !names.includes(name));
    await giveUpLeases(this.database, this.engine, unwanted);
    const leases = await takeLeases(this.database, names, this.engine, this.sightings);
    this.leases = new Map(leases.map((lease) => [lease.name, { lease, until: asked + leaseTime }]));
  }
}
