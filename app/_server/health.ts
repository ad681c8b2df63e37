import type { HealthAnswer } from '#core/health/views.ts';
import { callEngine } from './engine.ts';

/** Health of everything, or of one source; undefined when the engine is away. */
export async function readHealth(source?: string): Promise<HealthAnswer | undefined> {
  const query = source === undefined ? '' : `?${new URLSearchParams({ source })}`;
  const answer = await callEngine(`/health${query}`);
  if (!answer.ok) return undefined;
  // The engine is of the same build: its answer is of this shape.
  const value: HealthAnswer = await answer.json();
  return value;
}
