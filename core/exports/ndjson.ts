import type { ExportFormat } from './export-format.ts';

/** A JSON object on each line, its times as ISO 8601; `weight` where an event stands for more than one. */
export const ndjson: ExportFormat = {
  name: 'ndjson',
  title: 'NDJSON',
  type: 'application/x-ndjson',
  ending: 'ndjson',
  head: () => '',
  events: (events) =>
    events
      .map(({ time, received, severity, weight, source, emitter, body, attributes, tier }) => {
        const when = { time: new Date(time).toISOString(), received: new Date(received).toISOString() };
        const from = { source, ...(emitter !== '' && { emitter }), tier, ...(weight !== 1 && { weight }) };
        return `${JSON.stringify({ ...when, ...from, severity, ...(body !== '' && { body }), attributes })}\n`;
      })
      .join(''),
};
