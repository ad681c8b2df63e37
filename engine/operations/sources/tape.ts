import { deflateRawSync } from 'node:zlib';
import { ValidationError } from 'yup';
import type { TapeAnswer } from '#core/answers/sources.ts';
import { tapeLength } from '#core/consumers/tape.ts';
import { keyedHash } from '#core/masks/keyed-hash.ts';
import { compileMasks } from '#core/masks/mask.ts';
import { operations } from '#core/operations/index.ts';
import { maskBatch } from '#core/steps/mask-batch.ts';
import { tapedBatch, tapedEvent } from '#core/tape/taped.ts';
import { listTape, readTape, rewriteTape } from '#store/events/tape.ts';
import { recordsOfChunk } from '../../workers/tape.ts';
import { longCommand, question } from '../handler.ts';
import { knownSource } from './known-source.ts';

/** Chunks of the tape read together. */
const chunksAtOnce = 10;
const mostLines = 5_000;

export const tape = question(operations.tape, async ({ source, limit }, { database }): Promise<TapeAnswer> => {
  const wanted = Number(limit);
  if (!Number.isInteger(wanted) || wanted < 1 || wanted > mostLines)
    throw new ValidationError(`limit is a whole number from 1 to ${mostLines}`, limit, 'limit');
  const now = Date.now();
  const lines: { received: number; weight: number; format: string; raw: string }[] = [];
  const listed = await listTape(database, { from: now - tapeLength, to: now + 60_000 }, source);
  for (let i = 0; i < listed.length && lines.length < wanted; i += chunksAtOnce) {
    const ids = listed.slice(i, i + chunksAtOnce).map(({ id }) => id);
    for (const chunk of await readTape(database, ids))
      for (const [received, weight, format, raw] of recordsOfChunk(chunk))
        lines.push({ received, weight, format, raw });
  }
  return { lines: lines.sort((a, b) => b.received - a.received).slice(0, wanted) };
});

/** Writes what is on the tape of a source anew, with the source's masks. */
export const scrubTape = longCommand(operations.scrubTape, {
  subject: ({ name }) => name,
  carryOut: async ({ name }, services) => {
    const { settings } = await knownSource(services.database.db, name);
    const masks = compileMasks(settings.masks ?? [], keyedHash(Buffer.from(services.maskKey, 'hex')));
    let changed = 0;
    for (const { id } of await listTape(services.database, { from: 0, to: Date.now() + 86_400_000 }, name)) {
      const [chunk] = await readTape(services.database, [id]);
      if (!chunk) continue;
      let touched = 0;
      const lines = recordsOfChunk(chunk).flatMap((record) => {
        const [received, weight] = record;
        const batch = tapedBatch(name, [record]);
        // What cannot be read as an event cannot be masked as one: it leaves the tape.
        if (batch.rows === 0) touched++;
        if (batch.rows === 0) return [];
        const masked = maskBatch(batch, masks);
        if (masked === batch) return [JSON.stringify(record)];
        touched++;
        return [JSON.stringify([received, weight, ...tapedEvent(masked, 0)])];
      });
      if (touched === 0) continue;
      changed += touched;
      await rewriteTape(services.database, id, deflateRawSync(lines.join('\n'), { level: 1 }));
    }
    return { changed };
  },
});
