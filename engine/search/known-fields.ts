import { day } from '#core/events/time-units.ts';
import { addKnownFields, type KnownField } from '#core/segments/field-kinds.ts';
import type { Database } from '#store/database.ts';
import { listSegments } from '#store/events/segments.ts';
import type { HeaderCache } from './header-cache.ts';

/** Events of so long ago, in milliseconds, tell which fields there are. */
const reach = 7 * day;
/** How long what was read stands, in milliseconds. */
const fresh = 30_000;

/** The fields that stored events of the last week have; undefined where not of all of them is known which. */
export class KnownFields {
  private read: { readonly at: number; readonly fields: Promise<readonly string[] | undefined> } | undefined;

  constructor(
    private readonly database: Database,
    private readonly headers: HeaderCache,
  ) {}

  /** `now` in milliseconds. Rejects while the store is away; whoever asks then asks anew. */
  async names(now: number): Promise<readonly string[] | undefined> {
    if (!this.read || now - this.read.at > fresh) this.read = { at: now, fields: this.look(now) };
    const { read } = this;
    try {
      return await read.fields;
    } catch (error) {
      if (this.read === read) this.read = undefined;
      throw error;
    }
  }

  private async look(now: number): Promise<readonly string[] | undefined> {
    const listed = await listSegments(this.database, { from: now - reach, to: now + reach }, undefined);
    const fields = new Map<string, KnownField>();
    let isKnown = listed.length > 0;
    for await (const [segments, headers] of this.headers.pieces(listed))
      for (const { id } of segments) isKnown = addKnownFields(fields, headers.get(id)) && isKnown;
    return isKnown ? [...fields.keys()].sort() : undefined;
  }
}
