import { csv } from './csv.ts';
import type { ExportFormat } from './export-format.ts';
import { ndjson } from './ndjson.ts';
import { parquet } from './parquet.ts';

/** The forms in which found events are written out, by their names. */
export const exportFormats: ReadonlyMap<string, ExportFormat> = new Map(
  [csv, ndjson, parquet].map((format) => [format.name, format]),
);
