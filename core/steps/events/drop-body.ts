import { object } from 'yup';
import { TextTableBuilder } from '../../events/text-table.ts';
import type { StepKind } from '../step.ts';

/** Drops the body once its content lives in fields; a line that did not become fields keeps it. */
export const dropBody: StepKind = {
  kind: 'drop-body',
  title: 'Drop body',
  help: 'Drops the line itself once it has become fields, so that it is not kept twice. A line that did not fit an earlier step keeps its body.',
  schema: object({}).noUnknown(),
  describe: () => 'drop the body of parsed lines',
  makes: () => [],
  reads: () => [],
  example: { options: {}, input: '{"msg":"gate open","pier":4}', expect: { body: '', pier: 4 } },
  compile: () => (batch, rows) => {
    const { bytes, offsets } = batch.body;
    const kept = new TextTableBuilder();
    for (let row = 0; row < batch.rows; row++) {
      const drop = rows[row] === 1 && batch.parsed[row] === 1;
      const start = offsets[row] as number;
      kept.append(bytes, start, drop ? start : (offsets[row + 1] as number));
    }
    return { batch: { ...batch, body: kept.table() } };
  },
};
