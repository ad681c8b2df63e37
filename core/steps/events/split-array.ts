import { object, string } from 'yup';
import { gather } from '../../events/select.ts';
import { textAt } from '../../events/text-table.ts';
import { checkMade } from '../names.ts';
import { FailureCollector, type StepKind } from '../step.ts';
import { MadeAttributes, mostNames, without } from '../texts.ts';

export interface SplitArrayOptions {
  readonly from: string;
  /** Name of the items; the name of the list when it is not given. */
  readonly to?: string | undefined;
}

/** Most events that one event is split into; further items are left in a list. */
const mostItems = 1_000;

/** Makes one event for each item of a list. */
export const splitArray: StepKind<SplitArrayOptions> = {
  kind: 'split-array',
  title: 'Split array',
  help: 'Makes one event of each item of a JSON list in a field; all other fields are repeated. An item that is an object becomes fields below the name. The bytes that arrived are counted for the first item. A value that is no list is left alone; of a list with more than 1,000 items the rest stays together in the last event.',
  schema: object({ from: string().required(), to: string() }).noUnknown(),
  check: ({ from, to }) => checkMade(to ?? from, 'to'),
  describe: ({ from }) => `one event for each item of ${from}`,
  makes: ({ from, to }) => [to ?? from],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'seats', to: 'seat' },
    input: '{"ref":"SKL-1","seats":["12A"]}',
    expect: { ref: 'SKL-1', seat: '12A', seats: null },
  },
  compile: (options) => (batch, rows) => {
    const columns = batch.attributes.get(options.from);
    if (!columns?.text) return { batch };
    const { codes, table } = columns.text;
    const origin: number[] = [];
    const items: unknown[] = [];
    const first: boolean[] = [];
    let lists = 0;
    for (let row = 0; row < batch.rows; row++) {
      const code = codes[row] as number;
      const list = rows[row] === 1 && code >= 0 ? listOf(textAt(table, code)) : undefined;
      if (list) lists++;
      (list ?? [undefined]).forEach((item, index) => {
        origin.push(row);
        items.push(item);
        first.push(index === 0);
      });
    }
    if (lists === 0) return { batch };
    const repeated = gather(batch.source, [{ batch, rows: Int32Array.from(origin) }]);
    const size = repeated.size.map((bytes, row) => (first[row] ? bytes : 0));
    const split = Uint8Array.from(items, (item) => (item === undefined ? 0 : 1));
    const made = new MadeAttributes(repeated.rows);
    const failures = new FailureCollector(repeated.rows);
    items.forEach((item, row) => {
      if (item === undefined) return;
      if (!store(made, options.to ?? options.from, item, row))
        failures.add(row, `more than ${mostNames} different names`);
    });
    const attributes = new Map(repeated.attributes);
    const left = without(attributes.get(options.from) ?? {}, split);
    if (left) attributes.set(options.from, left);
    else attributes.delete(options.from);
    const result = made.into({ ...repeated, size, attributes }, split);
    return {
      batch: result,
      origin: Int32Array.from(origin),
      ...(failures.failures && { failures: failures.failures }),
    };
  },
};

/** The items of a JSON list; undefined when a text is none or the list is empty. */
function listOf(text: string): readonly unknown[] | undefined {
  if (!text.startsWith('[')) return undefined;
  try {
    const list: unknown = JSON.parse(text);
    if (!Array.isArray(list) || list.length === 0) return undefined;
    return list.length <= mostItems ? list : [...list.slice(0, mostItems - 1), list.slice(mostItems - 1)];
  } catch {
    return undefined;
  }
}

function store(made: MadeAttributes, name: string, item: unknown, row: number): boolean {
  if (item === null || item === undefined) return true;
  if (typeof item === 'object' && !Array.isArray(item)) {
    return Object.entries(item).every(([key, value]) => store(made, `${name}.${key}`, value, row));
  }
  if (!made.has(name) && made.count >= mostNames) return false;
  if (typeof item === 'number') made.get(name).setNumber(row, item);
  else if (typeof item === 'boolean') made.get(name).setFlag(row, item);
  else made.get(name).setString(row, typeof item === 'string' ? item : JSON.stringify(item));
  return true;
}
