import type { Condition } from '../conditions/condition.ts';
import { visit } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { type TextColumn, valueAt } from '../events/columns.ts';
import { severityClass, severityClasses } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import type { RoutedBatch } from '../routing/route.ts';
import type { ArrivedLine } from './arrived-line.ts';

/** Longest text of a line that is shown, in characters. */
const longestText = 500;

/** What a group brought for one view. Counts are of all events, estimated where only some were looked at. */
export interface ViewDelta {
  readonly view: number;
  readonly matched: number;
  readonly severities: readonly number[];
  readonly lines: readonly ArrivedLine[];
}

/** A row that may be shown. */
interface Chosen {
  readonly routed: RoutedBatch;
  readonly rows: EventBatch;
  readonly row: number;
  /** The row's place in the whole batch. */
  readonly place: number;
}

/** Gathers what of a group one view is about, with at most `mostLines` of its lines. */
export class ViewAccumulator {
  private matched = 0;
  private readonly severities = new Float64Array(severityClasses);
  private readonly chosen: Chosen[] = [];
  /** Rows that were met, of which those chosen are a sample. */
  private met = 0;
  private readonly asksForTier: boolean;

  constructor(
    private readonly view: number,
    private readonly condition: Condition,
    private readonly mostLines: number,
    private readonly random: () => number,
  ) {
    let asksForTier = false;
    visit(condition.node, (node) => {
      asksForTier ||= 'field' in node && node.field.toLowerCase() === 'tier';
    });
    this.asksForTier = asksForTier;
  }

  /**
   * Looks at the rows of a routed batch from `from` on: `rows` is that stretch of its events, each of which stands for
   * `standsFor` of the batch.
   */
  add(routed: RoutedBatch, rows: EventBatch, from: number, standsFor: number, context: ConditionContext): void {
    const isMeant = this.asksForTier ? this.byTier(routed, rows, from, context) : this.condition.test(rows, context);
    for (let row = 0; row < rows.rows; row++) {
      if (isMeant[row] === 0) continue;
      const events = (rows.weight[row] as number) * standsFor;
      this.matched += events;
      const place = severityClass(rows.severity[row] as number);
      this.severities[place] = (this.severities[place] as number) + events;
      const seat = this.seat();
      if (seat >= 0) this.chosen[seat] = { routed, rows, row, place: from + row };
    }
  }

  /** What there is to tell; undefined where nothing came. */
  delta(): ViewDelta | undefined {
    if (this.met === 0) return undefined;
    const lines = this.chosen.map(lineOf).sort((a, b) => a.received - b.received);
    return { view: this.view, matched: this.matched, severities: [...this.severities], lines };
  }

  /** Where the next row is in a sample of fixed size, each with the same chance; −1: it does not (J. S. Vitter, “Random sampling with a reservoir”, 1985, algorithm R). */
  private seat(): number {
    const met = this.met++;
    if (met < this.mostLines) return met;
    const seat = Math.floor(this.random() * this.met);
    return seat < this.mostLines ? seat : -1;
  }

  /** A condition that names tiers is asked of the rows of each tier as if they were stored in it. */
  private byTier(routed: RoutedBatch, rows: EventBatch, from: number, context: ConditionContext): Uint8Array {
    const isMeant = new Uint8Array(rows.rows);
    for (const tier of new Set(routed.fates.map(({ storedIn }) => storedIn))) {
      const mask = this.condition.test(rows, tier === undefined ? context : { ...context, tier });
      for (let row = 0; row < rows.rows; row++)
        if (routed.fates[routed.fateOf[from + row] as number]?.storedIn === tier) isMeant[row] = mask[row] as number;
    }
    return isMeant;
  }
}

function lineOf({ routed, rows, row, place }: Chosen): ArrivedLine {
  const fate = routed.fates[routed.fateOf[place] as number];
  const { emitter, shape, body } = rows;
  const text = row < body.count ? textAt(body, row) : '';
  return {
    received: rows.received[row] as number,
    time: rows.time[row] as number,
    severity: rows.severity[row] as number,
    source: rows.source,
    emitter: textOf(emitter, row),
    text: (text || fieldsOf(rows, row)).slice(0, longestText),
    weight: rows.weight[row] as number,
    shape: shape ? textOf(shape, row) : '',
    outcome: fate?.outcome ?? 'passing',
    tier: fate?.tier ?? '',
    rule: fate?.rule ?? '',
  };
}

function textOf({ codes, table }: TextColumn, row: number): string {
  const code = codes[row] as number;
  return code < 0 ? '' : textAt(table, code);
}

/** What stands for a body: the fields of an event. */
function fieldsOf({ attributes }: EventBatch, row: number): string {
  const fields: string[] = [];
  for (const [name, columns] of attributes) {
    const value = valueAt(columns, row);
    if (value !== undefined) fields.push(`${name}=${value}`);
  }
  return fields.join(' ');
}
