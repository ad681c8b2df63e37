'use client';

import Link from 'next/link';
import { toast } from 'sonner';
import type { SavedSearchView } from '../../data/answers.ts';
import { addressOfSaved, nameOfTab, removeSearch, saveSearch, useSavedSearches } from '../../data/saved-searches.ts';
import { savedSearch } from '../../data/search-requests.ts';
import { Button } from '../../kit/button.tsx';
import { Form, TextArea, TextInput } from '../../kit/form.tsx';
import { ago } from '../../kit/times/times.ts';

/** What is searched now, to be saved. */
export type SearchNow = Pick<SavedSearchView, 'condition' | 'window' | 'summary'>;

const shape = savedSearch.pick(['name', 'owner', 'note']);

/** The saved searches, and a form that saves what is searched now. */
export function SavedPanel({ now, tab }: { readonly now: SearchNow; readonly tab: string }) {
  const saved = useSavedSearches();
  if (!saved) return <p className="text-second">Loading saved searches …</p>;
  const shown = saved.find(({ name }) => name === nameOfTab(tab));
  const keep = async ({ name, owner, note }: Pick<SavedSearchView, 'name' | 'owner' | 'note'>): Promise<void> => {
    // Under the name of another one it is refused: nobody loses a search by the choice of a name.
    const version = name === shown?.name ? shown.version : 0;
    await saveSearch({ name, owner, note, version, ...now });
    toast(`Search saved as ${name}.`);
  };
  const remove = async (name: string): Promise<void> => {
    await removeSearch(name);
    toast(`${name} removed. Conditions that refer to it fail from now on.`);
  };
  return (
    <div className="flex flex-col gap-4">
      <Form
        key={shown?.name ?? ''}
        label="Save search"
        shape={shape}
        start={{ name: shown?.name ?? '', owner: shown?.owner ?? '', note: shown?.note ?? '' }}
        onSend={keep}
        submit={shown ? 'Save changes' : 'Save search'}
      >
        <p className="line text-[12.5px] break-all text-second">
          {now.condition || 'every event'} <span className="whitespace-nowrap">· {now.window}</span>
          {now.summary !== '' && ` · ${now.summary}`}
        </p>
        <TextInput
          name="name"
          label="Name"
          placeholder="night-errors"
          hint="Use saved:name in conditions to refer to it."
        />
        <TextInput name="owner" label="Owner" placeholder="harbour desk" />
        <TextArea name="note" label="Purpose" />
      </Form>
      {saved.length === 0 && <p className="border-t border-hair pt-2 text-second">No saved searches yet.</p>}
      <ul aria-label="Saved searches">
        {saved.map((search) => (
          <li key={search.name} className="border-t border-hair py-2 last:border-b">
            <div className="flex items-baseline justify-between gap-2">
              <Link href={addressOfSaved(search)} className="font-[650] hover:text-mark hover:underline">
                {search.name}
              </Link>
              <Button look="quiet" className="px-0!" onClick={() => void remove(search.name)}>
                Remove
              </Button>
            </div>
            <p className="line text-[12.5px] break-all text-second">
              {search.condition || 'every event'} · {search.window}
              {search.summary !== '' && ` · ${search.summary}`}
            </p>
            {search.note !== '' && <p className="text-[12.5px]">{search.note}</p>}
            <p className="text-[12.5px] text-second">
              {search.owner !== '' && `${search.owner}, `}changed {ago(search.changedAt)}
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}
