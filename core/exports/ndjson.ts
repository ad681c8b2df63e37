import { type ExportFormat, joinTexts } from './export-format.ts';

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
  piece: async (events) => {
    const lines = events.map(({ time, received, severity, weight, size, source, emitter, body, attributes, tier }) => {
      const when = { time: new Date(time).toISOString(), received: new Date(received).toISOString() };
      const from = { source, ...(emitter !== '' && { emitter }), tier, ...(weight !== 1 && { weight }) };
      const arrived = size > 0 && { raw_bytes: size };
      return `${JSON.stringify({ ...when, ...from, severity, ...arrived, ...(body !== '' && { body }), attributes })}\n`;
    });
    return { data: lines.join('') };
  },
};
