'use client';

import { useMemo } from 'react';
import { tableName } from '#core/tables/table.ts';
import { call, refresh, useQuestion } from './client.ts';

/** The tables that steps can look values up in: by name, when each was last changed (milliseconds). */
export function useTables(): Readonly<Record<string, number>> {
  const { data } = useQuestion('tables', {});
  return useMemo(() => Object.fromEntries(data?.tables.map(({ name, changedAt }) => [name, changedAt]) ?? []), [data]);
}

/** Adds a table from a CSV file, named after the file, or puts it in the place of the one of that name. */
export async function uploadTable(
  file: File,
): Promise<{ readonly name: string; readonly rows: number; readonly columns: readonly string[] }> {
  const name = tableName(file.name);
  const made = await call('saveTable', { name, csv: await file.text() });
  await refresh('tables');
  return { name, ...made };
}
