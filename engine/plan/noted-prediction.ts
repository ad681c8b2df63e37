import { array, number, object, string, tuple } from 'yup';
import type { NotedPrediction } from '#core/views/revision-effect.ts';

const volume = object({ events: number().required(), bytes: number().required() }).required();
const text = string().defined();
const hourSpread = object({
  ...{ source: text, tier: text },
  ...{ share: number().required(), spread: number().required(), hourly: number().required() },
}).required();
const noted = object({
  sources: array(
    object({ id: text, liveParsed: number().required(), draftParsed: number().required() }).required(),
  ).required(),
  flows: array(
    object({ place: tuple([text, text, text, text]).required(), live: volume, draft: volume }).required(),
  ).required(),
  hours: array(hourSpread).optional(),
  shapeHours: array(object({ shape: text, hours: array(hourSpread).required() }).required()).optional(),
  promised: object({ coins: number().required(), band: number().required(), sign: text }).optional().default(undefined),
});

/** What was noted of its rehearsal with a revision; undefined where there was none, or one from before flows were noted. */
export function notedPrediction(stored: unknown): NotedPrediction | undefined {
  const value: unknown = typeof stored === 'string' ? JSON.parse(stored) : stored;
  return noted.isValidSync(value) ? noted.cast(value) : undefined;
}
