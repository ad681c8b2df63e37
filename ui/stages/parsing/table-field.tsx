'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { uploadTable, useTables } from '../../data/tables.ts';
import { Select } from '../../kit/select.tsx';

/** One of the tables that were uploaded, or a new one from a CSV file, named after the file. */
export function TableField(props: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (name: string | undefined) => void;
}) {
  const tables = useTables();
  const [busy, setBusy] = useState(false);
  const upload = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setBusy(true);
    try {
      const { name, rows, columns } = await uploadTable(file);
      toast(`The table ${name} has ${rows.toLocaleString('en')} rows: ${columns.join(', ')}.`);
      props.onChange(name);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The table could not be uploaded.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <div>
      <Select
        label={props.label}
        value={props.value}
        placeholder="none"
        options={Object.keys(tables).map((name) => ({ value: name, title: name }))}
        onChange={props.onChange}
        className="inline-block"
      />
      <label className="ml-2 cursor-pointer font-semibold text-mark hover:underline">
        {busy ? 'Uploading …' : 'Upload CSV'}
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
