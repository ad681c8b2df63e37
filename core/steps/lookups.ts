import { array, object, string } from 'yup';
import type { Place } from '../places/place.ts';
import type { LookupTable } from '../tables/table.ts';
import type { StepResources } from './step.ts';

/** What steps looked up beyond the event, where tables and places are not at hand: in the browser. */
export interface Lookups {
  readonly tables: readonly { readonly name: string; readonly keys: readonly string[] }[];
  readonly addresses: readonly string[];
}

/** What was found. */
export interface LookupAnswers {
  /** For each table that was asked; `columns` is null where there is no such table. */
  readonly tables: readonly {
    readonly name: string;
    readonly columns: readonly string[] | null;
    /** Each key with its row; null: it is not in the table. */
    readonly rows: readonly (readonly [key: string, row: readonly string[] | null])[];
  }[];
  /** Each address with its place; null: nobody knows. */
  readonly places: readonly (readonly [address: string, place: Place | null])[];
}

/** Most tables, most keys of one of them and most addresses that are looked up at once; what goes beyond stays unknown. */
export const mostLookups = { tables: 20, keys: 2_000, addresses: 2_000 } as const;

/** {@link Lookups} as they come over the wire. */
export const lookupsShape = object({
  tables: array(
    object({ name: string().required(), keys: array(string().defined()).max(mostLookups.keys).default([]) }),
  )
    .max(mostLookups.tables)
    .default([]),
  addresses: array(string().defined()).max(mostLookups.addresses).default([]),
});

/** Looks everything up. */
export function answerLookups({ tables, addresses }: Lookups, resources: StepResources): LookupAnswers {
  return {
    tables: tables.map(({ name, keys }) => {
      const table = resources.table(name);
      return {
        name,
        columns: table?.columns ?? null,
        rows: keys.map((key) => [key, table?.find(key) ?? null] as const),
      };
    }),
    places: addresses.map((address) => [address, resources.place(address) ?? null] as const),
  };
}

interface KnownTable {
  columns: readonly string[] | null | undefined;
  readonly rows: Map<string, readonly string[] | null>;
  readonly open: Set<string>;
}

/** Resources that know what they were taught, and note what else they are asked for. */
export class TaughtResources implements StepResources {
  private readonly tables = new Map<string, KnownTable>();
  private readonly places = new Map<string, Place | null>();
  private readonly openPlaces = new Set<string>();

  /** Until it is known whether there is such a table, it is one without rows. */
  table(name: string): LookupTable | undefined {
    const known = this.known(name);
    if (known.columns === null) return undefined;
    const find = (key: string): readonly string[] | undefined => {
      const row = known.rows.get(key);
      if (row === undefined && known.open.size < mostLookups.keys) known.open.add(key);
      return row ?? undefined;
    };
    return { columns: known.columns ?? [], rows: known.rows.size, find };
  }

  place(address: string): Place | undefined {
    const place = this.places.get(address);
    if (place === undefined && this.openPlaces.size < mostLookups.addresses) this.openPlaces.add(address);
    return place ?? undefined;
  }

  /** What was asked for and is not known; undefined when there is nothing. */
  open(): Lookups | undefined {
    const tables = [...this.tables]
      .filter(([, { open }]) => open.size > 0)
      .slice(0, mostLookups.tables)
      .map(([name, { open }]) => ({ name, keys: [...open] }));
    return tables.length > 0 || this.openPlaces.size > 0 ? { tables, addresses: [...this.openPlaces] } : undefined;
  }

  /** Takes in what was found; it is no longer open. */
  learn(answers: LookupAnswers): void {
    for (const { name, columns, rows } of answers.tables) {
      const known = this.known(name);
      known.columns = columns;
      for (const [key, row] of rows) {
        known.rows.set(key, row);
        known.open.delete(key);
      }
    }
    for (const [address, place] of answers.places) {
      this.places.set(address, place);
      this.openPlaces.delete(address);
    }
  }

  private known(name: string): KnownTable {
    let known = this.tables.get(name);
    if (!known) this.tables.set(name, (known = { columns: undefined, rows: new Map(), open: new Set() }));
    return known;
  }
}
