'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { mutate } from 'swr';
import { callApi, useApi } from '../../data/use-api.ts';

interface TablesAnswer {
  readonly tables: readonly { readonly name: string; readonly changedAt: number }[];
}

const path = '/api/tables';

/** One of the tables that were uploaded, or a new one from a CSV file, named after the file. */
export function TableField(props: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (name: string | undefined) => void;
}) {
  const { data } = useApi<TablesAnswer>(path);
  const [busy, setBusy] = useState(false);
  const upload = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setBusy(true);
    try {
      const name = file.name
        .replace(/\.csv$/i, '')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-');
      const answer = await callApi<{ readonly rows: number; readonly columns: readonly string[] }>(path, {
        method: 'PUT',
        body: JSON.stringify({ name, csv: await file.text() }),
      });
      toast(`The table ${name} has ${answer.rows.toLocaleString('en')} rows: ${answer.columns.join(', ')}.`);
      await mutate(path);
      props.onChange(name);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The table could not be taken.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <div>
      <label>
        <span className="block text-[12.5px] font-semibold text-second">{props.label}</span>
        <select
          value={props.value}
          onChange={(event) => props.onChange(event.target.value || undefined)}
          className="mt-1 rounded-[5px] border border-hair bg-sheet px-2 py-1"
        >
          <option value="">–</option>
          {data?.tables.map((table) => (
            <option key={table.name}>{table.name}</option>
          ))}
        </select>
      </label>
      <label className="ml-2 cursor-pointer font-semibold text-mark hover:underline">
        {busy ? 'Taking …' : 'Upload CSV'}
        <input
          type="file"
          accept=".csv"
          className="sr-only"
          onChange={(event) => void upload(event.target.files?.[0])}
        />
      </label>
    </div>
  );
}
