'use client';

import { object } from 'yup';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { conditionShape, nameShape } from '../../data/source-requests.ts';
import { Button } from '../../kit/button.tsx';
import { Form, TextInput } from '../../kit/form.tsx';

const start = { name: '', condition: '' };
const shape = object({ name: nameShape, condition: conditionShape.required('Enter the labels of its sources.') });

async function keep(fleet: typeof start): Promise<void> {
  await call('saveFleet', fleet);
  await refresh('fleets');
}

/** Named groups of sources, by a condition on their labels; a condition can say `fleet = name` wherever it can name a source. */
export function FleetsPanel() {
  const { data } = useQuestion('fleets', {});
  const remove = async (fleet: string): Promise<void> => {
    await call('removeFleet', { name: fleet });
    await refresh('fleets');
  };
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">
        A fleet is a group of sources by their labels, owner or kind. Conditions can say{' '}
        <code className="line">fleet = piers</code> wherever a source can be named.
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
      <Form label="New fleet" shape={shape} start={start} onSend={keep} submit="Save fleet" clears>
        <TextInput name="name" label="Name" placeholder="piers" />
        <TextInput name="condition" label="Labels" mono placeholder="site = piers environment = prod" />
      </Form>
    </div>
  );
}
