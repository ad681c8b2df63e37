'use client';

import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { useState } from 'react';
import { object, string } from 'yup';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Form, TextInput } from '../../kit/form.tsx';
import { dayOf } from '../../kit/times/times.ts';

const shape = object({
  title: string().trim().required('Enter a name.').max(64, 'At most 64 characters.'),
});

/** Tokens with which programs, such as a storm warning, may switch postures and exclusions and do nothing else. */
export function SwitchTokens() {
  const { data } = useQuestion('switchTokens', {});
  const [made, setMade] = useState<string | undefined>();
  const make = async ({ title }: { readonly title: string }): Promise<void> => {
    const { token } = await call('addSwitchToken', { title });
    setMade(token);
    await refresh('switchTokens');
  };
  const end = async (id: number): Promise<void> => {
    await call('removeSwitchToken', { id });
    await refresh('switchTokens');
  };
  if (!data) return null;
  const { tokens } = data;
  return (
    <Disclosure as="div" className="mt-4">
      <DisclosureButton className="text-[12.5px] font-semibold text-mark hover:underline">
        Tokens for switching ({tokens.length})
      </DisclosureButton>
      <DisclosurePanel className="mt-2 max-w-[640px]">
        <ul>
          {tokens.map(({ id, title, hint, createdAt }) => (
            <li key={id} className="flex items-center justify-between gap-4 border-t border-hair py-1">
              <span>
                {title} <span className="line text-second">…{hint}</span>{' '}
                <span className="text-[12.5px] text-second">since {dayOf(createdAt)}</span>
              </span>
              <Button look="quiet" className="text-[12.5px]" onClick={() => void end(id)}>
                Revoke
              </Button>
            </li>
          ))}
        </ul>
        {made !== undefined && (
          <div role="status" className="my-2 border-y border-hair bg-land/50 px-3 py-2 text-[12.5px]">
            <p>This token is shown only once. Use it like this:</p>
            <code className="line mt-1 block break-all">{commandOf(made)}</code>
          </div>
        )}
        <Form label="New token" shape={shape} start={{ title: '' }} clears submit="Create token" onSend={make}>
          <TextInput name="title" label="Name of the program" className="w-72" placeholder="storm warning" />
        </Form>
      </DisclosurePanel>
    </Disclosure>
  );
}

function commandOf(token: string): string {
  const address = typeof window === 'undefined' ? '' : window.location.origin;
  return `curl -X PUT ${address}/api/postures/NAME -H 'authorization: Bearer ${token}' -H 'content-type: application/json' -d '{"on":true,"for":"4h","reason":"gale warning"}'`;
}
