import type { EventBatch } from './batch.ts';
import { BatchBuilder } from './batch-builder.ts';

/** A batch of one row with labels as its attributes, so that conditions can be asked about a source or an emitter. */
export function labelsBatch(source: string, labels: Readonly<Record<string, string>>, emitter = ''): EventBatch {
  const builder = new BatchBuilder(source, 1);
  for (const [name, value] of Object.entries(labels)) builder.attribute(name)?.setString(0, value);
  if (emitter !== '') builder.emitter.setText(0, emitter);
  builder.commit(0, 0, true);
  return builder.batch();
}
