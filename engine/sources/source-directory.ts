import { createHash } from 'node:crypto';
import { type Condition, compileCondition } from '#core/conditions/condition.ts';
import { fleetsBySource } from '#core/health/fleets.ts';
import { countChange } from '#store/cluster/counters.ts';
import type { Database } from '#store/database.ts';
import { listTables } from '#store/plan/lookup-tables.ts';
import { listFleets } from '#store/sources/fleets.ts';
import { listMaintenance, type MaintenanceWindow } from '#store/sources/maintenance.ts';
import { listRewinds, type Rewind } from '#store/sources/rewinds.ts';
import { listSources, listTokens, type Source, saveSource } from '#store/sources/sources.ts';
import type { Log } from '../base/log.ts';
import type { Delivery } from '../deliveries/delivery.ts';

/** SHA-256 of a token, hexadecimal. */
export function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

/** What a bearer token allows. */
export interface TokenRight {
  readonly source: Source;
  readonly backfill: boolean;
  /** From when on it is no longer valid (milliseconds); null for none. */
  readonly expiresAt: number | null;
}

/** What the directory of sources adds to a delivery of one of them. */
export type SourceParts = Pick<Delivery, 'masks' | 'join' | 'fleets' | 'notBefore' | 'rewoundAt'>;

/** Who may send, whose syslog messages are whose, and what belongs to each source. In memory, refreshed from the store. */
export class SourceDirectory {
  /** When each table that steps look values up in was last changed. */
  tables: Readonly<Record<string, number>> = {};
  maintenance: readonly MaintenanceWindow[] = [];
  private reading: Promise<void> = Promise.resolve();
  private byName = new Map<string, Source>();
  private byToken = new Map<string, TokenRight>();
  private rewinds: ReadonlyMap<string, Rewind> = new Map();
  /** What the fleets are called, those without a source among them. */
  fleetNames: readonly string[] = [];
  private fleetsByName = new Map<string, readonly string[]>();
  private syslog: readonly { readonly source: Source; readonly accepts: Condition }[] = [];

  constructor(
    private readonly database: Database,
    private readonly log: Log,
    /** Called when a source is found to be no more. */
    private readonly onRemoved: (source: string) => void = () => {},
  ) {}

  /** Reads everything again, after what is being read already: a reading that began earlier must not end last. */
  refresh(): Promise<void> {
    this.reading = this.reading.catch(() => {}).then(() => this.readAll());
    return this.reading;
  }

  private async readAll(): Promise<void> {
    const sources = await listSources(this.database);
    const tokens = await listTokens(this.database);
    this.tables = Object.fromEntries((await listTables(this.database)).map(({ name, changedAt }) => [name, changedAt]));
    this.maintenance = await listMaintenance(this.database);
    this.rewinds = new Map((await listRewinds(this.database)).map((rewind) => [rewind.source, rewind]));
    const removed = [...this.byName.keys()].filter((name) => !sources.some((source) => source.name === name));
    this.byName = new Map(sources.map((source) => [source.name, source]));
    for (const name of removed) this.onRemoved(name);
    const fleets = await listFleets(this.database);
    this.fleetNames = fleets.map(({ name }) => name);
    this.fleetsByName = fleetsBySource(sources, fleets);
    this.byToken = new Map(
      tokens.flatMap(({ hash, source: name, backfill, expiresAt }) => {
        const source = this.byName.get(name);
        return source ? [[hash, { source, backfill, expiresAt }] as const] : [];
      }),
    );
    this.syslog = sources.flatMap((source) => {
      if (source.kind !== 'syslog' || source.accepts === '') return [];
      const compiled = compileCondition(source.accepts);
      if (compiled.ok) return [{ source, accepts: compiled.condition }];
      this.log.warn(
        `Source ${source.name}: the condition for its syslog messages is wrong: ${compiled.problem.message}`,
      );
      return [];
    });
  }

  /** What the sources are called. */
  get names(): readonly string[] {
    return [...this.byName.keys()];
  }

  get sources(): readonly Source[] {
    return [...this.byName.values()];
  }

  /** All sources of a kind, by name. */
  sourcesOfKind(kind: string): readonly Source[] {
    return [...this.byName.values()].filter((source) => source.kind === kind);
  }

  /** The fleets that a source belongs to. */
  fleetsOf(source: string): readonly string[] {
    return this.fleetsByName.get(source) ?? [];
  }

  /** The fleets of all sources that are in one. */
  get fleets(): ReadonlyMap<string, readonly string[]> {
    return this.fleetsByName;
  }

  /** What a source's settings add to its deliveries. */
  deliveryOf(source: Source): SourceParts {
    const { masks, join } = source.settings;
    const rewind = this.rewinds.get(source.name);
    const notBefore = rewind?.from || undefined;
    const fleets = this.fleetsOf(source.name);
    return {
      ...(masks && masks.length > 0 && { masks }),
      ...(join && { join }),
      ...(fleets.length > 0 && { fleets }),
      ...(notBefore !== undefined && { notBefore }),
      ...(rewind && { rewoundAt: rewind.requestedAt }),
    };
  }

  /** Whether a source is being read again, so that nothing is read of it for now. */
  isPaused(name: string): boolean {
    const rewind = this.rewinds.get(name);
    return rewind !== undefined && rewind.step !== 'done';
  }

  /** When a source was last read again (milliseconds); 0 for never. What was read before then is no repetition. */
  rewoundAt(name: string): number {
    return this.rewinds.get(name)?.requestedAt ?? 0;
  }

  source(name: string): Source | undefined {
    return this.byName.get(name);
  }

  /** What a bearer token allows; undefined for one that is unknown or revoked. */
  right(token: string): TokenRight | undefined {
    const right = this.byToken.get(hashToken(token));
    return right && (right.expiresAt === null || right.expiresAt > Date.now()) ? right : undefined;
  }

  /** The syslog sources that say which messages are theirs, in order of name. */
  get syslogSources(): readonly { readonly source: Source; readonly accepts: Condition }[] {
    return this.syslog;
  }

  /**
   * The source for syslog messages that no other source takes; made on first use. While the store is away messages go under
   * its name all the same, and it is made later.
   */
  async syslogFallback(): Promise<string> {
    const name = 'syslog';
    if (this.byName.has(name)) return name;
    try {
      const parts = { kind: 'syslog', format: 'auto', owner: '', labels: {}, accepts: '', settings: {} };
      await this.database.db.transaction(async (tx) => {
        await saveSource(tx, { name, ...parts, createdAt: Date.now() });
        await countChange(tx);
      });
      await this.refresh();
    } catch (error) {
      this.log.warn({ err: error }, `The source ${name} could not be made yet; its messages are kept.`);
    }
    return name;
  }
}
