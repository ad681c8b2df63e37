'use client';

import { useMemo } from 'react';
import { mutate } from 'swr';
import type { TablesAnswer } from '#core/answers/plan.ts';
import { tableName } from '#core/tables/table.ts';
import { callApi, useApi } from './use-api.ts';

const path = '/api/tables';

/** The tables that steps can look values up in: by name, when each was last changed (milliseconds). */
export function useTables(): Readonly<Record<string, number>> {
  const { data } = useApi<TablesAnswer>(path);
  return useMemo(() => Object.fromEntries(data?.tables.map(({ name, changedAt }) => [name, changedAt]) ?? []), [data]);
}

/** Adds a table from a CSV file, named after the file, or puts it in the place of the one of that name. */
export async function uploadTable(
  file: File,
): Promise<{ readonly name: string; readonly rows: number; readonly columns: readonly string[] }> {
  const name = tableName(file.name);
  const body = JSON.stringify({ name, csv: await file.text() });
  const made = await callApi<{ readonly rows: number; readonly columns: readonly string[] }>(path, {
    method: 'PUT',
    body,
  });
  await mutate(path);
  return { name, ...made };
}
