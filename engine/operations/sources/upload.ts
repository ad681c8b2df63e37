import { createHash } from 'node:crypto';
import type { FormatChoice } from '#core/formats/index.ts';
import { operations } from '#core/operations/index.ts';
import { csvColumns } from '#core/templates/csv-columns.ts';
import type { Delivery } from '../../deliveries/delivery.ts';
import { declaredSize, isGzip } from '../../deliveries/gzip.ts';
import { BodyBudget } from '../../intake/body-budget.ts';
import { handIn } from '../../intake/hand-in.ts';
import { longCommand } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import { knownSource } from './known-source.ts';

/** Longest file that can be uploaded, in bytes. */
const longestUpload = 64_000_000;

const budget = new BodyBudget();

/** Takes a file that someone uploaded as a sample; its events count as history, at their own times. */
export const upload = longCommand(operations.upload, {
  subject: ({ name }) => name,
  carryOut: async ({ name, file }, services, { body: sent }) => {
    const known = await knownSource(services.database.db, name);
    const read = sent ? await budget.read(sent, longestUpload) : { bytes: Buffer.alloc(0) };
    if ('refused' in read) {
      if (read.refused === 'too-long')
        throw new Refusal(413, '', `A sample may have ${longestUpload / 1e6} MB. Nothing of it was kept.`);
      throw new Refusal(429, '', 'Too much is being uploaded at once. Nothing of it was kept; try again.');
    }
    const body = read.bytes;
    // It is counted again while it waits.
    budget.release(body.length);
    const gzip = isGzip(body);
    const isCsv = /\.csv$/i.test(file);
    const text = isCsv ? body.toString('utf8') : '';
    const columns = isCsv ? csvColumns(text.split(/\r?\n/, 200)) : undefined;
    const unpacked = gzip ? declaredSize(body) : body.length;
    const delivery: Delivery = {
      ...services.directory.deliveryOf(known),
      source: name,
      shape: 'lines',
      format: (columns ? 'text' : known.format) as FormatChoice,
      gzip,
      ...(gzip && { mostUnpacked: unpacked }),
      chunks: [columns ? body.subarray(body.indexOf(10) + 1) : body],
      received: Date.now(),
      backfill: true,
      key: `upload ${createHash('sha256').update(body).digest('hex')}`,
      tapeEvery: 1,
      ...(columns && { columns }),
    };
    const answer = await handIn(services.queue, { delivery, bytes: body.length, unpacked, patient: true });
    if (answer.kind === 'refused') throw new Refusal(answer.status, '', answer.message);
    if (answer.kind === 'larger') throw new Refusal(413, '', 'The file is too long.');
    if (answer.kind !== 'stored') throw new Refusal(429, '', 'The engine is behind. Nothing was kept; try again.');
    return answer;
  },
});
