'use client';

import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import { callApi, useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';

interface FleetsAnswer {
  readonly fleets: readonly { readonly name: string; readonly condition: string }[];
}

const path = '/api/fleets';

/** Named groups of sources, by a condition on their labels; a condition can say `fleet = name` wherever it can name a source. */
export function FleetsPanel() {
  const { data } = useApi<FleetsAnswer>(path);
  const [name, setName] = useState('');
  const [condition, setCondition] = useState('');
  const [failed, setFailed] = useState('');
  const save = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setFailed('');
    try {
      await callApi(path, { method: 'PUT', body: JSON.stringify({ name, condition }) });
      setName('');
      setCondition('');
      await mutate(path);
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The fleet could not be kept.');
    }
  };
  const remove = async (fleet: string): Promise<void> => {
    await callApi(path, { method: 'DELETE', body: JSON.stringify({ name: fleet }) });
    await mutate(path);
  };
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">
        A fleet is a group of sources by their labels, owner or kind. Conditions can say{' '}
        <code className="line">fleet = piers</code> wherever they can name a source.
      </p>
      <ul>
        {data?.fleets.map((fleet) => (
          <li key={fleet.name} className="flex items-center gap-2 border-t border-hair py-1.5 last:border-b">
            <span className="flex-1">
              <b className="font-[650]">{fleet.name}</b>{' '}
              <span className="line block text-second">{fleet.condition}</span>
            </span>
            <Button look="quiet" onClick={() => void remove(fleet.name)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <form onSubmit={(event) => void save(event)} className="flex flex-col gap-3">
        <TextField
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder="piers"
          required
        />
        <TextField
          label="Which labels"
          mono
          value={condition}
          onChange={(event) => setCondition(event.target.value)}
          placeholder="site = piers environment = prod"
          required
        />
        {failed !== '' && <Problem>{failed}</Problem>}
        <div>
          <Button type="submit" look="main">
            Keep the fleet
          </Button>
        </div>
      </form>
    </div>
  );
}
