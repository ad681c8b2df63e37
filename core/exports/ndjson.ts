import { bodyCells, type ExportRows, numberCells, textCells } from './cells.ts';
import { cellsOfAttributes } from './columns.ts';
import { type ExportFormat, joinTexts } from './export-format.ts';
import type { CellForm } from './written-column.ts';
import { WrittenRows } from './written-rows.ts';

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

const json: CellForm = {
  value: (value) => JSON.stringify(value),
  text: (writer, bytes, start, end) => writer.addJson(bytes, start, end),
};

function linesOf(events: ExportRows): Uint8Array {
  const { batch, rows, tier } = events;
  const lines = new WrittenRows(rows.length, json);
  const emitter = textCells(batch.emitter, rows);
  const body = bodyCells(events);
  lines.addTimes(numberCells(batch.time, rows).numbers, { before: '{"time":"' });
  lines.addTimes(numberCells(batch.received, rows).numbers, { before: '","received":"' });
  lines.addText(`","source":${JSON.stringify(batch.source)}`);
  if (emitter) lines.addCells(emitter, { before: ',"emitter":' });
  lines.addText(`,"tier":${JSON.stringify(tier)}`);
  lines.addCells(numberCells(batch.weight, rows, 1), { before: ',"weight":' });
  lines.addCells(numberCells(batch.severity, rows), { before: ',"severity":' });
  lines.addCells(numberCells(batch.size, rows, 0), { before: ',"raw_bytes":' });
  if (body) lines.addCells(body, { before: ',"body":' });
  lines.addText(',"attributes":{');
  for (const { name, cells } of cellsOfAttributes(batch, rows))
    lines.addCells(cells, { before: `${JSON.stringify(name)}:`, after: ',' });
  lines.addText('}}\n', true);
  return lines.bytes();
}
