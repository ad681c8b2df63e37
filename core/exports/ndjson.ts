import { bodyCells, type Cells, type ExportRows, textCells, type ValueCells } from './cells.ts';
import { cellsOfAttributes } from './columns.ts';
import { type ExportFormat, joinTexts } from './export-format.ts';
import { encodedTexts, TextWriter } from './text-writer.ts';

/**
 * A JSON object on each line, its times as ISO 8601; `weight` where an event stands for more than one, `raw_bytes` where it is
 * known how long its record was.
 */
export const ndjson: ExportFormat = {
  name: 'ndjson',
  title: 'NDJSON',
  type: 'application/x-ndjson',
  ending: 'ndjson',
  joiner: async () => joinTexts(''),
  piece: async (events) => ({ data: linesOf(events) }),
};

/** Adds a member of an object for the n-th event, a comma before it; nothing where the event has none. */
type Member = (writer: TextWriter, n: number) => void;

const openingBrace = 123;
const { bytes: beforeTime } = encodedTexts(['{"time":"']);
const { bytes: beforeReceived } = encodedTexts(['","received":"']);
const { bytes: beforeAttributes } = encodedTexts([',"attributes":']);
const { bytes: end } = encodedTexts(['}}\n']);
const severities = encodedTexts(Array.from({ length: 256 }, (_, severity) => `,"severity":${severity}`));

function linesOf(events: ExportRows): Uint8Array {
  const { batch, rows, tier } = events;
  const writer = new TextWriter();
  const source = encodedTexts([`","source":${JSON.stringify(batch.source)}`, `,"tier":${JSON.stringify(tier)}`]);
  const emitter = memberOf('emitter', textCells(batch.emitter, rows));
  const body = memberOf('body', bodyCells(events));
  const attributes = cellsOfAttributes(batch, rows).map(({ name, cells }) => memberOf(name, cells));
  for (let n = 0; n < rows.length; n++) {
    const row = rows[n] as number;
    const weight = batch.weight[row] as number;
    const size = batch.size[row] as number;
    writer.add(beforeTime);
    writer.addTime(batch.time[row] as number);
    writer.add(beforeReceived);
    writer.addTime(batch.received[row] as number);
    writer.addEncoded(source, 0);
    emitter(writer, n);
    writer.addEncoded(source, 1);
    if (weight !== 1) writer.addPlain(`,"weight":${weight}`);
    writer.addEncoded(severities, batch.severity[row] as number);
    if (size > 0) writer.addPlain(`,"raw_bytes":${size}`);
    body(writer, n);
    writer.add(beforeAttributes);
    const first = writer.end;
    for (const member of attributes) member(writer, n);
    // The brace stands where the comma before the first of them would.
    if (writer.end > first) writer.replace(first, openingBrace);
    else writer.addCharacter(openingBrace);
    writer.add(end);
  }
  return writer.take();
}

function memberOf(name: string, cells: Cells | undefined): Member {
  if (!cells) return () => {};
  const key = `,${JSON.stringify(name)}:`;
  if ('values' in cells) return memberOfValues(key, cells);
  const { codes, table } = cells;
  const { bytes: keyBytes } = encodedTexts([key]);
  const { bytes, offsets } = table;
  return (writer, n) => {
    const code = codes[n] as number;
    if (code < 0) return;
    writer.add(keyBytes);
    writer.addJson(bytes, offsets[code] as number, offsets[code + 1] as number);
  };
}

function memberOfValues(key: string, { values, at }: ValueCells): Member {
  const texts = encodedTexts(values.map((value) => (value === undefined ? '' : key + JSON.stringify(value))));
  return (writer, n) => writer.addEncoded(texts, at ? (at[n] as number) : n);
}
