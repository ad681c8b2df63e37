import type { KnownNames } from '#core/conditions/doubts.ts';
import type { SavedConditions } from '#core/conditions/saved.ts';
import { useQuestion } from './client.ts';

/** What things are called, as far as that has been read. */
export interface Names {
  readonly known: KnownNames;
  readonly saved: SavedConditions;
}

const nothingYet: Names = { known: {}, saved: new Map() };

/** What sources, tiers, fleets, fields and saved searches are called. */
export function useNames(): Names {
  const { data } = useQuestion('names', {}, 30_000);
  if (!data) return nothingYet;
  const { saved, fields, ...names } = data;
  return { known: { ...names, ...(fields && { fields }) }, saved: new Map(Object.entries(saved)) };
}
